/** What a step did is measured where it works: fine steps on large pictures too. */
import { encodeSrgb } from "../core/color/srgbCurve";
import { createNodeEngine, type NodeEngine } from "../cli/createNodeEngine";
import { addFrames, addRecord, setRegistration, startJob, unmovedRegistration } from "../document/edits";
import { addLayer, paintedMask } from "../document/layerEdits";
import { freshMerge, setMerge } from "../document/mergeEdits";
import type { Records } from "../document/records/types";
import { framesOf } from "../document/selectors";
import { concatBytes } from "../formats/bytes";
import { TiffWriter } from "../formats/tiff/TiffWriter";
import { newStroke } from "../../tests/support/records";
import { MemoryRasterStore } from "./tiles/MemoryRasterStore";

const [W, H] = [2600, 1500];
let node: NodeEngine;
let records: Records;

/** Stripes of two px on one half, even light on the other: what is fine is gone at a quarter of the size. */
function file(light: number): Uint8Array {
  const writer = new TiffWriter({ width: W, height: H, bits: 16, metadata: [], profile: null });
  const row = new Uint16Array(W * 3);
  for (let x = 0; x < W; x++) row.fill(65535 * encodeSrgb(x < W / 2 ? light * (x % 4 < 2 ? 0.8 : 1.2) : light), x * 3, x * 3 + 3);
  for (let y = 0; y < H; y++) writer.writeRows(row);
  return concatBytes(writer.finish());
}

beforeAll(async () => {
  node = await createNodeEngine(process.cwd(), new MemoryRasterStore());
  const frames = [];
  for (const light of [0.2, 0.21]) {
    const bytes = file(light);
    frames.push(await node.ask("importFrame", { fileName: `${light}.tif`, bytes }));
    node.sources.set(frames.at(-1)!.sourceId, async () => bytes);
  }
  const gathered = addFrames(frames)(startJob("Fine", "2026-01-01", "set-1").records);
  const all = framesOf(gathered);
  records = setMerge(freshMerge("base"))(setRegistration(unmovedRegistration(all, all[0], 1), {})(gathered));
});

const sharpened = () =>
  addLayer({ id: "l", name: "Sharp", content: { type: "adjustment", adjustment: "sharpen", values: { amount: 1.5, radiusPx: 1 } } })(records);

it("sharpening by 1 px is seen, on the half that has detail", async () => {
  const effect = (await node.ask("measureEffect", { before: records, after: sharpened() }))!;
  expect(effect.share).toBeGreaterThan(0.4);
  expect(effect.share).toBeLessThan(0.6);
  expect(effect.meanDeltaE).toBeGreaterThan(1);
});

it("Proof does not advise to remove it, and does advise to remove what does nothing", async () => {
  const idle = addLayer({ id: "idle", name: "Idle", content: { type: "adjustment", adjustment: "exposure", values: { ev: 0 } } })(sharpened());
  const findings = await node.ask("proof", { records: idle });
  expect(findings.filter((f) => f.kind === "noEffect").map((f) => f.id)).toEqual(["noEffect-idle"]);
});

it("a small stroke in one corner counts with its share of the whole picture", async () => {
  const layered = addLayer({ id: "l", name: "Lift", content: { type: "adjustment", adjustment: "exposure", values: { ev: 1 } }, mask: paintedMask(0, "p") })(
    records,
  );
  const painted = addRecord(newStroke({ layerId: "l", partId: "p", diameterPx: 40, softness: 0, points: [2500, 1400, 1] }))(layered);
  const effect = (await node.ask("measureEffect", { before: layered, after: painted }))!;
  const share = (Math.PI * 20 ** 2) / (W * H);
  expect(effect.share).toBeGreaterThan(share * 0.85);
  expect(effect.share).toBeLessThan(share * 1.15);
});
