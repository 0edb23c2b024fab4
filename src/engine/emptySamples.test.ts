/** Samples that are no numbers have no weight: in every merge a sound frame gives what a frame without light there would have hidden. */
import { createNodeEngine, type NodeEngine } from "../cli/createNodeEngine";
import { IDENTITY, type Matrix3 } from "../core/geometry/matrix3";
import type { FrameRecord } from "../document/records/types";
import { SRGB_INPUT } from "../formats/icc/readProfile";
import { randomOf } from "../../tests/support/kernels";
import { buildLevels } from "./operations/frames/levels";
import { allocatePlanes, readLinear, REC709_TO_WORKING } from "./operations/frames/frameSamples";
import { greyOfSource } from "./operations/frames/greyOfSource";
import { openPlaced } from "./operations/frames/placeFrame";
import { storePlanes } from "./operations/frames/sources";
import { mergeFocus } from "./operations/merge/mergeFocus";
import { mergeFusion } from "./operations/merge/mergeFusion";
import { mergeRadiance } from "./operations/merge/mergeRadiance";
import { mergeRepeats } from "./operations/merge/mergeRepeats";
import type { MergeInputs, MergeResult } from "./operations/merge/mergeTypes";
import { SILENT } from "./task";
import { MemoryRasterStore } from "./tiles/MemoryRasterStore";

const [W, H] = [96, 70];
const color = { ...SRGB_INPUT(REC709_TO_WORKING), name: "linear Rec. 709", curves: [(v: number) => v, (v: number) => v, (v: number) => v] } as ReturnType<
  typeof SRGB_INPUT
>;
let node: NodeEngine;
let made = 0;
beforeAll(async () => {
  node = await createNodeEngine(process.cwd(), new MemoryRasterStore());
});

/** A block, and single samples, of the first of two frames that hold no number. */
const isEmpty = (i: number) => (i % W > 30 && i % W < 44 && i > 20 * W && i < 32 * W) || i % 977 === 5;

/** Two frames alike but for a little noise; the first with places that are NaN, or that are left black. */
async function inputs(value: number): Promise<MergeInputs> {
  const random = randomOf(3);
  const scene = Float32Array.from({ length: W * H }, (_, i) => 0.2 + 0.1 * Math.sin(i / 7) + 0.05 * random());
  const frames = await Promise.all(
    [0, 1].map(async (k) => {
      const file = await node.ctx.store.create(`empty-${++made}`, { width: W, height: H, channels: 3, type: "f32", levels: 1 });
      for (let c = 0; c < 3; c++) file.write(0, c, 0, k === 0 ? scene.map((v, i) => (isEmpty(i) ? value : v)) : scene);
      const frame = { id: `f${k}`, width: W, height: H, measures: { noiseSigma: 1, noiseAt: 0.2 }, development: { exposureEv: 0 } } as FrameRecord;
      return { frame, file, color, inverse: IDENTITY, lens: null, relativeEv: 0 };
    }),
  );
  return { width: W, height: H, frames, reference: 0, key: made, noise: { shot: 1e-4, readSquared: 1e-7 } };
}

const MERGES: [string, (given: MergeInputs) => Promise<MergeResult>, worst: number][] = [
  ["radiance", (given) => mergeRadiance(node.ctx, given, false, SILENT), 1e-5],
  // single samples are taken from beside them in the frame's own bands, of which something is left around a place
  ["fusion", (given) => mergeFusion(node.ctx, given, { contrast: 1, saturation: 0, exposedness: 1 }, SILENT), 0.06],
  ["focus", (given) => mergeFocus(node.ctx, given, SILENT), 0.06],
  ["mean", (given) => mergeRepeats(node.ctx, given, "mean", SILENT), 1e-5],
  ["median", (given) => mergeRepeats(node.ctx, given, "median", SILENT), 1e-5],
  ["clippedMean", (given) => mergeRepeats(node.ctx, given, "clippedMean", SILENT), 1e-5],
];

const greenOf = ({ picture }: MergeResult) => {
  const out = new Float32Array(W * H);
  picture.read(0, 1, 0, 0, W, H, out);
  return out;
};

it.each(MERGES)("in a %s merge what is no number has no weight", async (_name, merge, worst) => {
  const merged = greenOf(await merge(await inputs(NaN)));
  const whole = await inputs(0);
  whole.frames[0] = whole.frames[1];
  const sound = greenOf(await merge(whole));
  const off = merged.map((v, i) => Math.abs(v - sound[i]) / sound[i]);
  expect(Math.max(...off)).toBeLessThan(worst);
  // and it would show otherwise
  const black = greenOf(await merge(await inputs(0)));
  if (_name !== "fusion" && _name !== "focus" && _name !== "median")
    expect(Math.max(...black.map((v, i) => Math.abs(v - sound[i]) / sound[i]))).toBeGreaterThan(0.2);
});

it("placing keeps them empty, with what interpolation mixes them into, and keeps negative light", async () => {
  const plane = new Float32Array(W * H).fill(0.25);
  plane[30 * W + 40] = NaN;
  plane.fill(-0.125, 50 * W, 60 * W);
  await storePlanes(node.ctx, "placed", { width: W, height: H, type: "f32", alpha: null, planes: [plane, plane, plane] });
  node.ctx.colors.set("placed", color);
  const matrix: Matrix3 = [1, 0, 3.5, 0, 1, 0.25, 0, 0, 1];
  const placed = await openPlaced(node.ctx, { pictureId: "placed", matrix, lens: null, width: W, height: H }, SILENT);
  const out = new Float32Array(W * H);
  placed.read(0, 0, 0, 0, W, H, out);
  const empty = Array.from(out.keys()).filter((i) => Number.isNaN(out[i]));
  // 4×4 taps reach it from four places in each direction
  expect(empty).toHaveLength(16);
  expect(out[55 * W + 20]).toBeCloseTo(-0.125, 6);
  expect(Math.min(...out.filter((v) => !Number.isNaN(v)))).toBeGreaterThanOrEqual(-0.125);
});

it("a px is shown alike whatever rectangle it is read in, also within places that are empty", async () => {
  const random = randomOf(9);
  const plane = new Float32Array(W * H).map(() => 0.2 + 0.1 * random());
  // runs of one to nine samples, some at the border
  for (let y = 0; y < H; y++)
    for (let run = 1, x = y % 5; x < W; x += 2 * run + 1, run = (run % 9) + 1) plane.fill(NaN, y * W + x, y * W + Math.min(W, x + run));
  const file = await storePlanes(node.ctx, "runs", { width: W, height: H, type: "f32", alpha: null, planes: [plane, plane, plane] });
  const read = (x: number, width: number) =>
    node.ctx.kernels.withScope((scope) => {
      const out = allocatePlanes(scope, width * H);
      readLinear(scope, file, color, 0, { x, y: 0, width, height: H }, out);
      return node.ctx.kernels.f32(out.g, width * H).slice();
    });
  const whole = read(0, W);
  expect(whole.some((v) => v === 0)).toBe(true);
  expect(whole.every((v) => !Number.isNaN(v))).toBe(true);
  for (const [x, width] of [
    [0, 10],
    [7, 5],
    [30, 33],
    [W - 9, 9],
    [41, 1],
  ]) {
    const part = read(x, width);
    expect(Array.from(part, (v, i) => v - whole[Math.floor(i / width) * W + x + (i % width)]).filter((d) => d !== 0)).toEqual([]);
  }
});

it("for registration they are no usable light", async () => {
  const plane = new Float32Array(W * H).fill(0.25);
  plane[10 * W + 10] = NaN;
  const file = await storePlanes(node.ctx, "grey", { width: W, height: H, type: "f32", alpha: null, planes: [plane, plane, plane] });
  buildLevels(node.ctx.kernels, file);
  node.ctx.colors.set("grey", color);
  const { base } = await greyOfSource(node.ctx, { sourceId: "grey", quarterTurns: 0 });
  expect(base[10 * W + 10]).toBe(65535);
  expect(base[10 * W + 11]).toBeLessThan(65535);
});
