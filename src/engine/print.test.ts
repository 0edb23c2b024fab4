import { readFileSync } from "node:fs";
import { createNodeEngine, type NodeEngine } from "../cli/createNodeEngine";
import { addRecord, setGeometry, updateRecord } from "../document/edits";
import { setFinish } from "../document/finishEdits";
import { checkRecord } from "../document/parseDocument";
import type { TargetRecord } from "../document/records/targetTypes";
import type { Records } from "../document/records/types";
import { framesOf } from "../document/selectors";
import { sourceIdsOf } from "../document/sourceIds";
import { SMALL_JOB, prepareSmallJob } from "../../tests/support/smallJob";
import { sha256 } from "./graph/keys";
import type { ViewSpec } from "./operations/view/ViewSpec";
import { MemoryRasterStore } from "./tiles/MemoryRasterStore";

const [W, H] = SMALL_JOB;
const whole = { x: 0, y: 0, width: W, height: H };
/** A deep shade in the lower left, in which there is still something to see; all else is a middle grey. */
const shade = { x: 40, y: 180, width: 120, height: 90 };
const inShade = (x: number, y: number) => x >= shade.x && x < shade.x + shade.width && y >= shade.y && y < shade.y + shade.height;

let node: NodeEngine;
let start: Records;
let target: TargetRecord;
beforeAll(async () => {
  node = await createNodeEngine(process.cwd(), new MemoryRasterStore());
  const light = (x: number, y: number) => (inShade(x, y) ? 0.02 + 0.004 * Math.sin(x / 5) : 0.2);
  const merged = await prepareSmallJob(node, { light, matrices: [0, 1, 2].map(() => [1, 0, 0, 0, 1, 0, 0, 0, 1]) });
  start = setFinish("toneResponse", { curve: 1, headroomEv: 0 })(setGeometry({ angleDeg: 0, crop: whole, ratio: null })(merged));
  const profile = new Uint8Array(readFileSync("public/papers/wrenfold-matte.icc"));
  const sourceId = await sha256(profile);
  node.sources.set(sourceId, async () => profile);
  const { name } = await node.ask("readTarget", { profile });
  target = { kind: "target", id: "target", sourceId, fileName: "matte.icc", name, intent: "relative", blackPoint: false, paper: true, widthMm: 300 };
});

const on = (change: Partial<TargetRecord>) => updateRecord<TargetRecord>("target", change)(addRecord(target)(start));

it("a target is a record of the job, and its profile a source that goes along", () => {
  expect(checkRecord(target)).toBeUndefined();
  expect(() => checkRecord({ ...target, sourceId: "none" })).toThrow();
  const step = { id: "s", parent: null, at: "", stage: "proof", label: "step.targetDropped", diff: { added: { target }, updated: {}, removed: {} } } as const;
  expect(sourceIdsOf([step as never])).toEqual([target.sourceId]);
});

it("what closes in the ink is found where it lies, and the remedy opens it", async () => {
  const closed = on({ blackPoint: false });
  const findings = await node.ask("proof", { records: closed });
  const found = findings.find((f) => f.kind === "printsBlack")!;
  expect(found.share).toBeCloseTo((shade.width * shade.height) / (W * H), 2);
  const { place } = found;
  expect(inShade(place!.x + place!.width / 2, place!.y + place!.height / 2)).toBe(true);
  expect(found.remedy).toEqual({ kind: "changeTarget", change: { blackPoint: true } });
  const opened = on({ blackPoint: true });
  expect((await node.ask("proof", { records: opened })).some((f) => f.kind === "printsBlack")).toBe(false);
  // without a target nothing of it is told
  expect((await node.ask("proof", { records: start })).some((f) => f.kind === "printsBlack" || f.kind === "outOfGamut")).toBe(false);
});

it("the paper shows: nothing is darker than its ink nor lighter than its white; shown as white, white is white", async () => {
  const lights = async (records: Records, view: ViewSpec = { kind: "printed", marks: "none" }) => {
    const seen = await node.ask("renderRect", { records, view, level: 0, rect: whole, space: "srgb" });
    const greens = Array.from({ length: W * H }, (_, i) => seen.rgba[4 * i + 1]).sort((a, b) => a - b);
    return { least: greens[0], most: greens[greens.length - 1] };
  };
  const figures = (await node.ask("measurePrint", { records: on({}) }))!;
  const codeOf = (L: number) => {
    // CIE 15: Y of L*, then the curve of sRGB
    const y = L > 8 ? ((L + 16) / 116) ** 3 : (L * 27) / 24389;
    return 255 * (y > 0.0031308 ? 1.055 * y ** (1 / 2.4) - 0.055 : 12.92 * y);
  };
  const shown = await lights(on({ blackPoint: true }));
  expect(shown.least).toBeGreaterThan(codeOf(figures.blackL) - 4);
  const bright = (paper: boolean) => setFinish("exposure", { ev: 6 })(on({ blackPoint: true, paper }));
  expect((await lights(bright(true))).most).toBeLessThan(codeOf(figures.whiteL) + 4);
  const white = (await lights(bright(false), { kind: "output" })).most;
  expect(Math.abs((await lights(bright(false))).most - white)).toBeLessThan(3);
});

it("places are marked where they are told, the screen shows what is delivered, and a turned camera too", async () => {
  const records = on({ blackPoint: false });
  const view = (marks: "none" | "blocked") => node.ask("renderRect", { records, view: { kind: "printed", marks }, level: 0, rect: whole, space: "srgb" });
  const [plain, marked] = [await view("none"), await view("blocked")];
  let [hits, misses] = [0, 0];
  for (let i = 0; i < W * H; i++) {
    const differs = [0, 1, 2].some((c) => Math.abs(plain.rgba[4 * i + c] - marked.rgba[4 * i + c]) > 30);
    if (!differs) continue;
    if (inShade(i % W, Math.floor(i / W))) hits++;
    else misses++;
  }
  // half of a marked place lies between the stripes
  expect(hits).toBeGreaterThan(0.3 * shade.width * shade.height);
  expect(misses).toBe(0);

  const turned = setGeometry({ angleDeg: 2, tilt: { pitchDeg: 9, yawDeg: 0, focalPx: 500 }, crop: { x: 60, y: 60, width: 240, height: 160 }, ratio: null })(
    records,
  );
  const settings = { format: "png16", quality: 95, space: "srgb", content: "printed", crop: true } as const;
  const file = await node.ask("exportPicture", { records: turned, settings });
  const { default: png } = await import("fast-png").then((m) => ({ default: m }));
  const delivered = png.decode(Buffer.concat(file.parts));
  const seen = await node.ask("renderRect", {
    records: turned,
    view: { kind: "printed", marks: "none" },
    level: 0,
    rect: { x: 0, y: 0, width: 240, height: 160 },
    space: "srgb",
  });
  let worst = 0;
  for (let i = 0; i < 240 * 160; i++) for (let c = 0; c < 3; c++) worst = Math.max(worst, Math.abs(seen.rgba[4 * i + c] - delivered.data[3 * i + c] / 257));
  // the dither of the screen may move a value by one code
  expect(worst).toBeLessThanOrEqual(1.01);
});

it("a target that is kept open prints as one opened anew, whatever was asked for between", async () => {
  const asked = [
    {},
    { blackPoint: true },
    { intent: "perceptual" as const },
    { intent: "saturation" as const, paper: false },
    { intent: "absolute" as const },
    {},
  ];
  const printed = (by: NodeEngine, change: Partial<TargetRecord>) =>
    by.ask("renderRect", {
      records: on(change),
      view: { kind: "printed", marks: "outside" },
      level: 0,
      rect: { x: 0, y: 100, width: W, height: 100 },
      space: "srgb",
    });
  for (const change of asked) {
    const cold = await createNodeEngine(process.cwd(), new MemoryRasterStore());
    for (const [id, load] of node.sources) cold.sources.set(id, load);
    for (const f of framesOf(start)) cold.sources.set(f.sourceId, () => node.ctx.loadSource(f.sourceId));
    const [warm, anew] = [await printed(node, change), await printed(cold, change)];
    expect(Buffer.compare(Buffer.from(warm.rgba.buffer), Buffer.from(anew.rgba.buffer))).toBe(0);
  }
});
