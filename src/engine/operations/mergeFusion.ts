import type { Kernels, Scope } from "../../kernels/Kernels";
import { Scope as KernelScope } from "../../kernels/Kernels";
import type { EngineContext } from "../EngineContext";
import { contentKey } from "../graph/keys";
import type { Task } from "../task";
import { MemoryRasterStore } from "../tiles/MemoryRasterStore";
import type { RasterFile } from "../tiles/RasterStore";
import { allocatePlanes, each, readThrough, readWorking, REC709_TO_WORKING, WORKING_TO_REC709 } from "./frameSamples";
import { fillCoverage, type MergeFrame, type MergeInputs, type MergeResult } from "./mergeInputs";
import { openMerge } from "./openMerge";
import { accumulate, allocatePyramid, collapse, reduce } from "./pyramids";
import { writeShares } from "./shares";

const FUSION_VERSION = 1;
const ROWS = 128;
const MEMORY_BYTES = 256 * 1024 * 1024;

export interface FusionWeights {
  contrast: number;
  saturation: number;
  exposedness: number;
}

/** Exposure fusion on sRGB-encoded values. @see Mertens, Kautz, Van Reeth 2007 */
export async function openFusion(ctx: EngineContext, inputs: MergeInputs, exponents: FusionWeights, task: Task): Promise<MergeResult> {
  const key = await contentKey("fusion", FUSION_VERSION, [inputs.key, exponents]);
  return openMerge(ctx, key, inputs, async ({ picture, dominant, shares }) => {
    const { width, height, frames } = inputs;
    const weightKey = `${key}-weights`;
    // what fits into the memory cache spares the way over the store
    const store = width * height * frames.length * 4 <= MEMORY_BYTES ? new MemoryRasterStore() : ctx.store;
    const weights = await store.create(weightKey, { width, height, channels: frames.length, type: "f32", levels: 1 });
    try {
      for (let y0 = 0; y0 < height; y0 += ROWS) {
        await task.step(y0 * 0.35, height, "Weighing the frames");
        weighStrip(ctx, inputs, exponents, weights, dominant, shares, y0, Math.min(height, y0 + ROWS));
      }
      const weightOf: WeightOf = (k, out) => weights.read(0, k, 0, 0, width, height, out);
      await blendPyramids(ctx, inputs, weightOf, picture, task);
    } finally {
      await store.remove(weightKey);
    }
  });
}

/**
 * 0..1 of each 16-bit code. Codes of 8-bit sources are scaled by 1/255 in single precision, as the usual libraries do: where all
 * weights are close to zero, the last digit decides.
 */
const UNIT = Float32Array.from({ length: 65536 }, (_, v) => (v % 257 === 0 ? Math.fround((v / 257) * Math.fround(1 / 255)) : v / 65535));

/** One channel of a frame in sRGB encoding; sources in another space are converted first. */
export function readChannel(scope: Scope, input: MergeFrame, channel: number, y: number, rows: number, width: number, out: number): void {
  if (input.color.name === "sRGB") {
    readThrough(scope, input.file, 0, channel, { x: 0, y, width, height: rows }, UNIT, out);
    return;
  }
  const { kernels } = scope;
  const planes = allocatePlanes(scope, width * rows);
  readWorking(scope, input.file, input.color, 0, { x: 0, y, width, height: rows }, planes);
  kernels.run("applyMatrix", [...each(planes), scope.matrix(WORKING_TO_REC709)], 0, planes.length, 65536);
  const plane = each(planes)[channel];
  kernels.run("encodeSamples", [plane, plane, 65535], 0, planes.length, 65536);
  const target = kernels.f32(out, width * rows);
  const encoded = kernels.f32(plane, width * rows);
  for (let i = 0; i < target.length; i++) target[i] = encoded[i] / 65535;
}

function weighStrip(
  ctx: EngineContext,
  inputs: MergeInputs,
  exponents: FusionWeights,
  weights: RasterFile,
  dominant: RasterFile,
  shares: RasterFile,
  y0: number,
  y1: number,
): void {
  const { kernels } = ctx;
  const { width, height, frames } = inputs;
  const rows = y1 - y0;
  const n = width * rows;
  kernels.withScope((scope) => {
    const total = scope.floats(n + 16);
    kernels.f32(total, n).fill(0);
    const coverage = scope.floats(n + 16);
    const stride = width + 16;
    const padded = [0, 1, 2].map(() => scope.floats(stride * (rows + 2) + 32));
    const weighed = frames.map((input) => {
      const weight = scope.floats(n + 16);
      fillCoverage(kernels, input, width, y0, y1, coverage);
      const starts = padded.map((at, c) => padRows(kernels, input, c, y0, rows, width, height, stride, at));
      kernels.run(
        "fusionWeightRows",
        [...starts, stride, coverage, weight, total, width, exponents.contrast, exponents.saturation, exponents.exposedness],
        0,
        rows,
      );
      return weight;
    });
    const best = scope.floats(n + 16);
    const index = scope.bytes(n);
    kernels.f32(best, n).fill(0);
    kernels.u8(index, n).fill(0);
    weighed.forEach((weight, k) => {
      kernels.run("divideSamples", [weight, total], 0, n, 65536);
      kernels.run("keepLargest", [weight, best, index, k], 0, n, 65536);
      weights.write(0, k, y0, kernels.f32(weight, n));
      writeShares(ctx, shares, k, weight, width, y0, rows);
    });
    dominant.write(0, 0, y0, kernels.u8(index, n));
  });
}

/** Reads rows with a mirrored border of one row and one column; returns the address of the first inner sample. */
function padRows(
  kernels: Kernels,
  input: MergeFrame,
  channel: number,
  y0: number,
  rows: number,
  width: number,
  height: number,
  stride: number,
  at: number,
): number {
  kernels.withScope((scope) => {
    const top = Math.max(0, y0 - 1);
    const bottom = Math.min(height, y0 + rows + 1);
    const plain = scope.floats(width * (bottom - top) + 16);
    readChannel(scope, input, channel, top, bottom - top, width, plain);
    const from = kernels.f32(plain, width * (bottom - top));
    const to = kernels.f32(at, stride * (rows + 2) + 32);
    for (let y = -1; y <= rows; y++) {
      let source = y0 + y;
      if (source < 0) source = Math.min(1, height - 1);
      if (source >= height) source = Math.max(0, height - 2);
      const line = from.subarray((source - top) * width, (source - top + 1) * width);
      const o = (y + 1) * stride + 4;
      to.set(line, o);
      to[o - 1] = line[Math.min(1, width - 1)];
      to[o + width] = line[Math.max(0, width - 2)];
    }
  });
  return at + (stride + 4) * 4;
}

/** Writes the weight of frame k for every sample of the picture; the weights of all frames sum to one. */
export type WeightOf = (k: number, out: Float32Array) => void;

/** Sums the weighted Laplacian pyramids of all frames and collapses the sum. @param shares filled with the weights where they are not yet */
export async function blendPyramids(
  ctx: EngineContext,
  inputs: MergeInputs,
  weightOf: WeightOf,
  picture: RasterFile,
  task: Task,
  shares?: RasterFile,
): Promise<void> {
  const { kernels } = ctx;
  const { width, height, frames } = inputs;
  const depth = Math.floor(Math.log2(Math.min(width, height)));
  const scope = new KernelScope(kernels);
  try {
    const sums = [0, 1, 2].map(() => allocatePyramid(scope, width, height, depth));
    for (const p of sums) p.at.forEach((at, l) => kernels.f32(at, p.width[l] * p.height[l]).fill(0));
    const weight = allocatePyramid(scope, width, height, depth);
    const channel = allocatePyramid(scope, width, height, depth);
    for (const [k, input] of frames.entries()) {
      weightOf(k, kernels.f32(weight.at[0], width * height));
      if (shares) writeShares(ctx, shares, k, weight.at[0], width, 0, height);
      reduce(kernels, weight);
      for (let c = 0; c < 3; c++) {
        await task.step(0.35 + (0.6 * (k * 3 + c)) / (frames.length * 3), 1, "Blending the frames");
        for (let y = 0; y < height; y += ROWS) {
          const rows = Math.min(ROWS, height - y);
          kernels.withScope((inner) => {
            const strip = inner.floats(width * rows + 16);
            readChannel(inner, input, c, y, rows, width, strip);
            kernels.f32(channel.at[0] + y * width * 4, width * rows).set(kernels.f32(strip, width * rows));
          });
        }
        reduce(kernels, channel);
        accumulate(kernels, channel, weight, sums[c]);
      }
    }
    for (const sum of sums) {
      await task.step(0.97, 1, "Blending the frames");
      collapse(kernels, sum);
      kernels.run("decodeSamples", [sum.at[0], sum.at[0]], 0, Math.ceil((width * height) / 4) * 4, 65536);
    }
    const matrix = scope.matrix(REC709_TO_WORKING);
    kernels.run("applyMatrix", [...sums.map((s) => s.at[0]), matrix], 0, Math.ceil((width * height) / 4) * 4, 65536);
    sums.forEach((sum, c) => picture.write(0, c, 0, kernels.f32(sum.at[0], width * height)));
  } finally {
    scope.release();
  }
}
