/** Light that is added, on the demo's jugs: each of two lamps alone and both, so that the sum is known; the frames are rendered, noisy and JPEG. */
import { wholeFrame } from "../kinds/contents/frame/record";
import { createNodeEngine, type NodeEngine } from "../cli/createNodeEngine";
import { gatherFiles } from "../cli/gatherFiles";
import { setRegistration, unmovedRegistration } from "../document/edits";
import { addLayer } from "../document/layerEdits";
import { freshMerge, setMerge } from "../document/mergeEdits";
import type { FrameRecord, Records } from "../document/records/types";
import type { FrameContent, FrameLight } from "../kinds/contents/frame/record";
import { each } from "./operations/frames/frameSamples";
import { composeRect, prepareJob } from "./operations/layers/compose";
import { readLayer } from "./operations/merge/readLayer";
import { quantile } from "../core/numeric/statistics";
import { SILENT } from "./task";
import { MemoryRasterStore } from "./tiles/MemoryRasterStore";

const LEVEL = 1;
const RECT = { x: 0, y: 0, width: 750, height: 500 };
const N = RECT.width * RECT.height;

let node: NodeEngine;
let plain: Records;
let frames: FrameRecord[];
beforeAll(async () => {
  node = await createNodeEngine(process.cwd(), new MemoryRasterStore());
  const gathered = await gatherFiles(
    node,
    "jugs",
    [1, 2, 3].map((i) => `demo/jugs/jugs-${i}.jpg`),
    SILENT,
  );
  frames = gathered.files.map((f) => f.frame!);
  plain = setMerge(freshMerge("base", { baseId: frames[0].id }))(setRegistration(unmovedRegistration(frames, frames[0], 1), {})(gathered.records));
});

const NO_BLACK: FrameLight = { black: [0, 0, 0], warmthMired: 0, ambientId: null };
const layered = (frame: number, light: FrameLight, over: Partial<FrameContent> = {}): Records =>
  addLayer({
    id: "l",
    name: "Lamp",
    mode: "add",
    content: wholeFrame(frames[frame].id, { light, ...over }),
  })(plain);

const composed = async (records: Records): Promise<Float32Array[]> => {
  const job = await prepareJob(node.ctx, records, SILENT);
  return node.ctx.kernels.withScope((scope) => each(composeRect(node.ctx, job, LEVEL, RECT, "layers", scope)).map((at) => node.ctx.kernels.f32(at, N).slice()));
};
const frameLight = async (k: number): Promise<Float32Array[]> => {
  const job = await prepareJob(node.ctx, plain, SILENT);
  return node.ctx.kernels.withScope((scope) => each(readLayer(scope, job.inputs.frames[k], LEVEL, RECT, 0)).map((at) => node.ctx.kernels.f32(at, N).slice()));
};

/** Shot noise of three frames, of 9000 electrons each where light is 1, and the steps of their codes. */
const MEDIAN = 0.004;

/** Differences where nothing is clipped. */
function differences(got: Float32Array[], wanted: Float32Array[]): Float32Array {
  const off: number[] = [];
  got.forEach((plane, c) => plane.forEach((v, i) => wanted[c][i] < 0.85 && off.push(Math.abs(v - wanted[c][i]))));
  return Float32Array.from(off);
}

it("one lamp's frame and the light of the other's are the frame with both lamps", async () => {
  const off = differences(await composed(layered(1, NO_BLACK)), await frameLight(2));
  expect(off.length).toBeGreaterThan(2 * N);
  expect(quantile(off, 0.5)).toBeLessThan(MEDIAN);
  expect(quantile(off, 0.99)).toBeLessThan(0.02);
});

it("both lamps' frame without the light of the first is the second's, and gives the same picture", async () => {
  const off = differences(await composed(layered(2, { ...NO_BLACK, ambientId: frames[0].id })), await frameLight(2));
  expect(quantile(off, 0.5)).toBeLessThan(MEDIAN);
  expect(quantile(off, 0.99)).toBeLessThan(0.02);
});

it("the strength is in EV, the black level comes off before it, and warmth moves red against blue", async () => {
  // levels of the merge are means of light, those of a frame of its codes
  const [base, lamp] = [await composed(plain), await frameLight(1)];
  const black = [0.02, 0.015, 0.01];
  const got = await composed(layered(1, { ...NO_BLACK, black }, { exposureEv: 1 }));
  const worst = got.reduce(
    (most, plane, c) => plane.reduce((m, v, i) => Math.max(m, Math.abs(v - base[c][i] - 2 * Math.max(0, lamp[c][i] - black[c]))), most),
    0,
  );
  expect(worst).toBeLessThan(1e-5);
  const added = (planes: Float32Array[], c: number) => planes[c].reduce((sum, v, i) => sum + v - base[c][i], 0);
  const ratio = (planes: Float32Array[]) => added(planes, 0) / added(planes, 2);
  const [plainRatio, warm] = [ratio(await composed(layered(1, NO_BLACK))), ratio(await composed(layered(1, { ...NO_BLACK, warmthMired: 60 })))];
  expect(warm).toBeGreaterThan(1.1 * plainRatio);
});

it("the black level of a frame is what a quarter of it is no lighter than", async () => {
  const black = (await node.ask("measureBlack", { records: plain, frameId: frames[1].id }))!;
  const lamp = await frameLight(1);
  black.forEach((b, c) => {
    const below = lamp[c].reduce((n, v) => n + (v <= b ? 1 : 0), 0) / N;
    expect(Math.abs(below - 0.25)).toBeLessThan(0.03);
  });
  expect(await node.ask("measureBlack", { records: plain, frameId: "none" })).toBeNull();
});
