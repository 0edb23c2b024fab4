import { Scope } from "../../../kernels/Kernels";
import type { EngineContext } from "../../EngineContext";
import { contentKey } from "../../graph/keys";
import type { Task } from "../../task";
import type { RasterFile } from "../../tiles/RasterStore";
import { readEncoded } from "../frames/frameSamples";
import { coversRows, fillCoverage } from "./mergeInputs";
import { storedMerge } from "./storedMerge";
import { withPyramidSum, type PyramidSum } from "./PyramidSum";
import type { RollingRows } from "./RollingRows";
import { writeShares } from "./shares";
import type { MergeFrame, MergeInputs, MergeResult } from "./mergeTypes";

const FUSION_VERSION = 5;
/** Rows at once, a multiple of SHARE_CELL. */
const ROWS = 16;

export interface FusionWeights {
  contrast: number;
  saturation: number;
  exposedness: number;
}

/** Exposure fusion on sRGB-encoded values. Every frame is read once: strips of all frames are weighed and give their bands. @see Mertens, Kautz, Van Reeth 2007 */
export async function mergeFusion(ctx: EngineContext, inputs: MergeInputs, exponents: FusionWeights, task: Task): Promise<MergeResult> {
  const key = contentKey("fusion", FUSION_VERSION, [inputs.key, exponents]);
  const make = (result: MergeResult) =>
    withPyramidSum(ctx, result.picture, async (sum) => {
      await addFrames(ctx, inputs, exponents, sum, result, task);
      await sum.finish((y) => task.step(0.9 + (0.1 * y) / inputs.height, 1, "task.blending"));
    });
  return storedMerge(ctx, key, inputs, make, { halved: true });
}

/** Rows from one up to another. */
interface Span {
  from: number;
  to: number;
}

async function addFrames(ctx: EngineContext, inputs: MergeInputs, exponents: FusionWeights, sum: PyramidSum, result: MergeResult, task: Task): Promise<void> {
  const { width, height } = inputs;
  const scope = new Scope(ctx.kernels);
  try {
    const bands = sum.frames(scope, inputs.frames.length, ROWS, true);
    for (let y0 = 0; y0 < height; y0 += ROWS) {
      await task.step(0.9 * y0, height, "task.weighing");
      const read = Math.min(height, y0 + ROWS);
      // a weight looks one row down
      const weighed = { from: Math.max(0, y0 - 1), to: read === height ? height : read - 1 };
      bands.moveTo(read);
      bands.planes.forEach((planes, k) => weighRows(ctx, inputs, k, exponents, planes, y0, read, weighed));
      const weights = bands.planes.map((planes) => planes[3]);
      shareRows(ctx, weights, weighed, width, result.dominant);
      const { from, to } = bands.push(weighed.to);
      weights.forEach((rows, k) => writeShares(ctx, result.shares, k, rows.at(from), width, from, to - from));
    }
  } finally {
    scope.release();
  }
}

/** Reads rows y0 to y1 of a frame and weighs those rows that have their neighbours. */
function weighRows(
  { kernels }: EngineContext,
  { frames, width, height }: MergeInputs,
  k: number,
  { contrast, saturation, exposedness }: FusionWeights,
  planes: RollingRows[],
  y0: number,
  y1: number,
  weighed: Span,
): void {
  const input = frames[k];
  const [red, green, blue, weight] = planes;
  kernels.withScope((scope) => {
    readEncoded(scope, input.file, input.color, y0, y1 - y0, width, {
      r: red.at(y0),
      g: green.at(y0),
      b: blue.at(y0),
      length: Math.ceil(((y1 - y0) * width) / 8) * 8,
    });
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
function shareRows({ kernels }: EngineContext, weights: RollingRows[], { from, to }: Span, width: number, dominant: RasterFile): void {
  kernels.withScope((scope) => {
    const n = width * (to - from);
    const table = scope.addresses(weights.map((rows) => rows.at(from)));
    const index = scope.bytes(n + 16);
    kernels.run("shareWeights", [weights.length, table, index], 0, Math.ceil(n / 4) * 4, 65536);
    dominant.write(0, 0, from, kernels.u8(index, n));
  });
}
