import { Scope } from "../../kernels/Kernels";
import type { EngineContext } from "../EngineContext";
import { contentKey } from "../graph/keys";
import type { Task } from "../task";
import { MemoryRasterStore } from "../tiles/MemoryRasterStore";
import type { RasterFile } from "../tiles/RasterStore";
import { withPyramidSum, type FrameRows, type PyramidSum } from "./blendPyramids";
import { readEncoded } from "./frameSamples";
import { coversRows, fillCoverage, type MergeFrame, type MergeInputs, type MergeResult } from "./mergeInputs";
import { openMerge } from "./openMerge";
import { RollingRows } from "./RollingRows";
import { writeShares } from "./shares";

const FUSION_VERSION = 3;
/** Rows at once, fewer where many wide frames pass at the same time. */
const rowsAtOnce = (width: number, frames: number): number => (width * frames < 80_000 ? 64 : 16);
/** Rows by which the finest band lags behind reading: a weight looks one row down, halving two, expanding one of half the size. */
const LAG = 4;
const MEMORY_BYTES = 256 * 1024 * 1024;

export interface FusionWeights {
  contrast: number;
  saturation: number;
  exposedness: number;
}

/**
 * Exposure fusion on sRGB-encoded values. Every frame is read once: strips of all frames are weighed and give their finest band, and
 * what is kept of a frame for the coarser ones is its planes of half the size. @see Mertens, Kautz, Van Reeth 2007
 */
export async function openFusion(ctx: EngineContext, inputs: MergeInputs, exponents: FusionWeights, task: Task): Promise<MergeResult> {
  const key = await contentKey("fusion", FUSION_VERSION, [inputs.key, exponents]);
  return openMerge(ctx, key, inputs, async (result) => {
    const { width, height, frames } = inputs;
    const halvesKey = `${key}-halves`;
    await withPyramidSum(ctx, width, height, async (sum) => {
      const { halfWidth, halfHeight } = sum;
      const channels = frames.length * PLANES;
      // what fits into the memory cache spares the way over the store
      const store = halfWidth * halfHeight * channels * 4 <= MEMORY_BYTES ? new MemoryRasterStore() : ctx.store;
      const halves = await store.create(halvesKey, { width: halfWidth, height: halfHeight, channels, type: "f32", levels: 1 });
      try {
        await addFinestBands(ctx, inputs, exponents, sum, halves, result, task);
        for (const k of frames.keys()) {
          await task.step(0.75 + (0.2 * k) / frames.length, 1, "Blending the frames");
          planesOf(sum.halves).forEach((at, c) => halves.read(0, k * PLANES + c, 0, 0, halfWidth, halfHeight, ctx.kernels.f32(at, halfWidth * halfHeight)));
          sum.addCoarser();
        }
      } finally {
        await store.remove(halvesKey);
      }
      await sum.finish(result.picture, (y) => task.step(0.95 + (0.05 * y) / height, 1, "Blending the frames"));
    });
  });
}

/** Red, green, blue and weight of a frame. */
const PLANES = 4;
const planesOf = ({ channels, weight }: FrameRows): number[] => [...channels, weight];

/** Rows of the planes of one frame that are on their way, at full and at half size. */
interface Passing {
  full: RollingRows[];
  half: RollingRows[];
}

/** Rows from one up to another. */
interface Span {
  from: number;
  to: number;
}

async function addFinestBands(
  ctx: EngineContext,
  inputs: MergeInputs,
  exponents: FusionWeights,
  sum: PyramidSum,
  halves: RasterFile,
  result: MergeResult,
  task: Task,
): Promise<void> {
  const { width, height, frames } = inputs;
  const scope = new Scope(ctx.kernels);
  try {
    const rolling = (rowWidth: number, rows: number) => Array.from({ length: PLANES }, () => new RollingRows(scope, rowWidth, rows, LAG));
    const atOnce = rowsAtOnce(width, frames.length);
    const passing = frames.map((): Passing => ({ full: rolling(width, atOnce), half: rolling(sum.halfWidth, atOnce / 2 + 1) }));
    for (let y0 = 0, done = 0; done < height; y0 += atOnce) {
      await task.step(0.75 * y0, height, "Weighing the frames");
      const read = Math.min(height, y0 + atOnce);
      const last = read === height;
      const weighed = { from: Math.max(0, y0 - 1), to: last ? height : read - 1 };
      const halved = { from: Math.max(0, y0 / 2 - 1), to: last ? sum.halfHeight : read / 2 - 1 };
      const to = last ? height : read - LAG;
      passing.forEach(({ full }, k) => weighRows(ctx, inputs, k, exponents, full, y0, read, weighed));
      shareRows(ctx, passing, weighed, width, result.dominant);
      for (const [k, { full, half }] of passing.entries()) {
        half.forEach((rows) => rows.moveTo(halved.to));
        sum.halve(originsOf(full), originsOf(half), halved.from, halved.to);
        half.forEach((rows, c) => halves.write(0, k * PLANES + c, halved.from, rows.samples(halved.from, halved.to)));
        sum.addFinest(originsOf(full), originsOf(half), done, to);
        writeShares(ctx, result.shares, k, full[3].at(done), width, done, to - done);
      }
      done = to;
    }
  } finally {
    scope.release();
  }
}

const originsOf = ([red, green, blue, weight]: RollingRows[]): FrameRows => ({ channels: [red, green, blue].map((rows) => rows.at(0)), weight: weight.at(0) });

/** Reads rows y0 to y1 of a frame and weighs those rows that have their neighbours. */
function weighRows(
  { kernels }: EngineContext,
  { frames, width, height }: MergeInputs,
  k: number,
  { contrast, saturation, exposedness }: FusionWeights,
  full: RollingRows[],
  y0: number,
  y1: number,
  weighed: Span,
): void {
  const input = frames[k];
  const [red, green, blue, weight] = full;
  full.forEach((rows) => rows.moveTo(y1));
  kernels.withScope((scope) => {
    const planes = { r: red.at(y0), g: green.at(y0), b: blue.at(y0), length: Math.ceil(((y1 - y0) * width) / 8) * 8 };
    readEncoded(scope, input.file, input.color, y0, y1 - y0, width, planes);
    const origins = [red, green, blue].map((rows) => rows.at(0));
    const covered = coversRows(input, width, weighed.from, weighed.to) ? 0 : coverageOf(scope, input, width, weighed) - weighed.from * width * 4;
    kernels.run("fusionWeightRows", [...origins, width, height, covered, weight.at(0), contrast, saturation, exposedness], weighed.from, weighed.to);
  });
}

function coverageOf(scope: Scope, input: MergeFrame, width: number, { from, to }: Span): number {
  const coverage = scope.floats((to - from) * width + 16);
  fillCoverage(scope.kernels, input, width, from, to, coverage);
  return coverage;
}

/** Divides the weights of all frames by their sum and notes whose is the largest. */
function shareRows({ kernels }: EngineContext, passing: Passing[], { from, to }: Span, width: number, dominant: RasterFile): void {
  kernels.withScope((scope) => {
    const n = width * (to - from);
    const table = scope.bytes(passing.length * 4);
    kernels.u32(table, passing.length).set(passing.map(({ full }) => full[3].at(from)));
    const index = scope.bytes(n + 16);
    kernels.run("shareWeights", [passing.length, table, index], 0, Math.ceil(n / 4) * 4, 65536);
    dominant.write(0, 0, from, kernels.u8(index, n));
  });
}
