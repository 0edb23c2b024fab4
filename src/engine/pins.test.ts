/** Places that are known to be neutral: what they read, which layer takes them off, and how they are mended where they are. */
import { createNodeEngine, type NodeEngine } from "../cli/createNodeEngine";
import { workingToLab } from "../core/color/colorDifference";
import { encodeSrgb } from "../core/color/srgbCurve";
import { addFrames, addPin, setRegistration, startJob, takeStep, unmovedRegistration, updateRecord } from "../document/edits";
import { setFinish } from "../document/finishEdits";
import { addLayer } from "../document/layerEdits";
import { layPictureMatch } from "../document/matchEdits";
import { freshMerge, setMerge } from "../document/mergeEdits";
import { checkRecord } from "../document/parseDocument";
import { mendPin } from "../document/pinEdits";
import type { PinRecord, Records } from "../document/records/types";
import { childrenOf, finishGroupOf, finishValues, framesOf, layersOf, pinsOf } from "../document/selectors";
import { concatBytes } from "../formats/bytes";
import { TiffWriter } from "../formats/tiff/TiffWriter";
import { SILENT } from "./task";
import { prepareJob } from "./operations/layers/compose";
import { patchMean } from "./operations/finish/patch";
import { MemoryRasterStore } from "./tiles/MemoryRasterStore";

const [W, H] = [420, 300];
/** A wall before a meadow, white but for what is asked for. */
const isWall = (x: number, y: number) => x >= 100 && x < 300 && y >= 80 && y < 220;

async function walled(node: NodeEngine, tintAt: (x: number, y: number) => number[] = () => [1, 1, 1]): Promise<Records> {
  const writer = new TiffWriter({ width: W, height: H, bits: 16, metadata: [], profile: null });
  const samples = new Uint16Array(3 * W * H);
  for (let i = 0; i < W * H; i++) {
    const [x, y] = [i % W, Math.floor(i / W)];
    const light = isWall(x, y)
      ? tintAt(x, y).map((t) => t * (0.6 + 0.04 * (x / W)))
      : [0.06, 0.14, 0.03].map((g) => g * (1 + 0.4 * Math.sin(x * 0.9) * Math.cos(y * 1.3)));
    light.forEach((v, c) => (samples[3 * i + c] = Math.round(65_535 * encodeSrgb(v))));
  }
  writer.writeRows(samples);
  const bytes = concatBytes(writer.finish());
  const frame = await node.ask("importFrame", { fileName: "wall.tif", bytes });
  node.sources.set(frame.sourceId, async () => bytes);
  const begun = startJob("Test", "2026-01-01T00:00:00Z", "set-1");
  const { records } = takeStep(begun.history, begun.records, addFrames([frame]), { stage: "gather", label: "step.compared" }, "t");
  const [only] = framesOf(records);
  const merged = setMerge(freshMerge("base", { baseId: only.id }))(setRegistration(unmovedRegistration([only], only, 1), {})(records));
  return addPin({ purpose: "neutral", x: 200, y: 150, radius: 4, target: null })(merged);
}

let node: NodeEngine;
let plain: Records;
beforeAll(async () => {
  node = await createNodeEngine(process.cwd(), new MemoryRasterStore());
  plain = await walled(node);
});

const strong = addLayer({ name: "Evening", content: { type: "adjustment", adjustment: "whiteBalance", values: { mired: -45, duv: 0 } } });
const before = addLayer({ name: "Contrast", content: { type: "adjustment", adjustment: "contrast", values: { factor: 1.1 } } });
const readings = (records: Records) => node.ask("readNeutralPins", { records });
const pinOf = (records: Records) => pinsOf(records)[0];
async function chromaAt(records: Records, x: number, y: number): Promise<number> {
  const job = await prepareJob(node.ctx, records, SILENT);
  const [, a, b] = workingToLab(patchMean(node.ctx, job, x, y, 3, "finish"));
  return Math.hypot(a, b);
}

it("a pin that holds is told as such; under a strong look it is off, and the layer that took it there is named", async () => {
  const [held] = await readings(before(plain));
  expect(held).toMatchObject({ isOff: false, byLayer: null });
  const [off] = await readings(strong(before(plain)));
  expect(off).toMatchObject({ isOff: true, byLayer: "Evening" });
  expect(off.b).toBeLessThan(-5);
  expect(off.deltaE).toBeCloseTo(await chromaAt(strong(before(plain)), 200, 150), 0);
  const findings = await node.ask("proof", { records: strong(before(plain)) });
  expect(findings.find((f) => f.kind === "cast")!.values).toMatchObject({ pin: 1, towards: "blue", from: "layer", by: "Evening" });
});

it("what may be so is let be, up to what was said", async () => {
  const looked = strong(plain);
  const [{ deltaE }] = await readings(looked);
  const allowed = (mayBe: number) => updateRecord<PinRecord>(pinOf(looked).id, { mayBe })(looked);
  expect(checkRecord(pinOf(allowed(12)))).toBeUndefined();
  expect((await readings(allowed(deltaE + 0.5)))[0].isOff).toBe(false);
  expect((await readings(allowed(deltaE - 0.5)))[0].isOff).toBe(true);
  expect(() => checkRecord({ ...pinOf(looked), mayBe: -1 })).toThrow();
});

it("is mended along its wall alone, up to the edges, and holds from then on", async () => {
  const looked = strong(plain);
  const mending = (await node.ask("mendNeutral", { records: looked, pinId: pinOf(looked).id }))!;
  // the wall is 200 × 140 of 420 × 300
  expect(mending.share).toBeCloseTo((200 * 140) / (W * H), 1);
  expect(mending.before).toBeGreaterThan(5);
  const [way] = mending.ways;
  expect(way.adjustment).toBe("whiteBalance");
  expect(way.left).toBeLessThan(0.5);
  const mended = mendPin(pinOf(looked), way, { layer: "Wall", group: "Mended" })(looked);
  for (const record of Object.values(mended)) expect(checkRecord(record)).toBeUndefined();
  expect(layersOf(mended).find((l) => l.name === "Mended")!.parentId).toBe(finishGroupOf(mended)!.id);
  // it is no step of the finish: that white balance is still at nothing, and set beside it
  expect(finishValues(mended, "whiteBalance").mired).toBe(0);
  const balanced = setFinish("whiteBalance", { mired: 12, duv: 0 })(mended);
  expect(layersOf(balanced).find((l) => l.name === "Wall")!.content).toEqual(layersOf(mended).find((l) => l.name === "Wall")!.content);
  // and stays on top of it, and of a look that is taken later
  const later = layPictureMatch([{ adjustment: "chroma", values: { factor: 0.9 } }], ["Chroma"], "Look", 1)(balanced);
  expect(childrenOf(later, finishGroupOf(later)!.id).map((l) => l.name)).toEqual(["White balance", "Look", "Mended"]);
  expect((await readings(mended))[0].isOff).toBe(false);
  for (const [x, y] of [
    [110, 90],
    [290, 210],
  ])
    expect(await chromaAt(mended, x, y)).toBeLessThan(2);
  for (const [x, y] of [
    [80, 150],
    [360, 40],
  ])
    expect(await chromaAt(mended, x, y)).toBeCloseTo(await chromaAt(looked, x, y), 1);
});

it("where blue and pink are mixed, one white balance leaves more than draining does, and both say how much", async () => {
  const mixed = await walled(node, (x) => (x < 200 ? [0.97, 0.99, 1.08] : [1.05, 0.97, 1]));
  const mending = (await node.ask("mendNeutral", { records: mixed, pinId: pinOf(mixed).id }))!;
  const left = Object.fromEntries(mending.ways.map((w) => [w.adjustment, w.left]));
  expect(left.chroma).toBeLessThan(0.5);
  expect(left.whiteBalance).toBeGreaterThan(2);
});

it("a pin that is gone has nothing to mend", async () => {
  expect(await node.ask("mendNeutral", { records: plain, pinId: "pin-gone" })).toBeNull();
});
