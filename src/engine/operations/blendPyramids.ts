import { Scope } from "../../kernels/Kernels";
import type { EngineContext } from "../EngineContext";
import type { Task } from "../task";
import type { RasterFile } from "../tiles/RasterStore";
import { allocatePlanes, each, readEncoded, REC709_TO_WORKING } from "./frameSamples";
import type { MergeInputs } from "./mergeInputs";
import { accumulate, allocatePyramid, coarser, collapse, reduce, type Pyramid } from "./pyramids";
import { writeShares } from "./shares";

/** Rows at once, even and a multiple of SHARE_CELL; few, so that they stay near the processor. */
const ROWS = 32;
/** Rows below a strip that the plane of half the size needs. */
const BELOW = 3;

/** Writes the weights of frame k for some rows of the picture; the weights of all frames sum to one. */
export type WeightOf = (k: number, y0: number, rows: number, out: Float32Array) => void;

/**
 * Sums the weighted Laplacian pyramids of all frames in sRGB encoding and collapses the sum into working light. Full-size planes of
 * a frame pass by in strips: only the sums are held at full size.
 * @see Burt, Adelson 1983 @param shares filled with the weights where they are not yet
 */
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
  const scope = new Scope(kernels);
  try {
    const sums = [0, 1, 2].map(() => allocatePyramid(scope, width, height, depth));
    for (const sum of sums) sum.at.forEach((at, l) => kernels.f32(at, sum.width[l] * sum.height[l]).fill(0));
    const [weight, ...channels] = [0, 1, 2, 3].map(() => allocatePyramid(scope, (width + 1) >> 1, (height + 1) >> 1, depth - 1));
    for (const k of frames.keys()) {
      for (let y0 = 0; y0 < height; y0 += ROWS) {
        await task.step(0.95 * (k + y0 / height), frames.length, "Blending the frames");
        blendStrip(ctx, inputs, k, y0, weightOf, { sums, weight, channels }, shares);
      }
      reduce(kernels, weight);
      channels.forEach((channel, c) => {
        reduce(kernels, channel);
        accumulate(kernels, channel, weight, coarser(sums[c]));
      });
    }
    for (const sum of sums) collapse(kernels, coarser(sum));
    for (let y0 = 0; y0 < height; y0 += ROWS) {
      await task.step(0.95 + (0.05 * y0) / height, 1, "Blending the frames");
      finishStrip(ctx, sums, y0, picture);
    }
  } finally {
    scope.release();
  }
}

/** Adds the finest band of some rows of a frame to the sums and fills the rows of half the size that these rows decide. */
function blendStrip(
  ctx: EngineContext,
  { width, height, frames }: MergeInputs,
  k: number,
  y0: number,
  weightOf: WeightOf,
  { sums, weight, channels }: { sums: Pyramid[]; weight: Pyramid; channels: Pyramid[] },
  shares?: RasterFile,
): void {
  const { kernels } = ctx;
  const { file, color } = frames[k];
  const rows = Math.min(ROWS, height - y0);
  const all = Math.min(height, y0 + rows + BELOW) - y0;
  kernels.withScope((scope) => {
    const planes = allocatePlanes(scope, width * all);
    readEncoded(scope, file, color, y0, all, width, planes);
    const given = scope.floats(width * all + 16);
    weightOf(k, y0, all, kernels.f32(given, width * all));
    if (shares) writeShares(ctx, shares, k, given, width, y0, rows);
    if (weight.at.length === 0) {
      each(planes).forEach((plane, c) => kernels.run("accumulateProduct", [plane, given, sums[c].at[0] + y0 * width * 4], 0, width * rows, 65536));
      return;
    }
    // kernels count rows from the top of the picture
    const fromTop = (plane: number) => plane - y0 * width * 4;
    const halve = (plane: number, half: Pyramid) =>
      kernels.run(
        "reduceRows",
        [fromTop(plane), width, height, half.at[0], half.width[0]],
        y0 === 0 ? 0 : y0 / 2 + 1,
        Math.min(half.height[0], Math.ceil((y0 + rows) / 2) + 1),
      );
    halve(given, weight);
    each(planes).forEach((plane, c) => {
      const half = channels[c];
      halve(plane, half);
      kernels.run("accumulateBand", [fromTop(plane), width, height, half.at[0], half.width[0], half.height[0], fromTop(given), sums[c].at[0]], y0, y0 + rows);
    });
  });
}

/** Adds the finest band to what lies below it and writes some rows of the result. */
function finishStrip(ctx: EngineContext, sums: Pyramid[], y0: number, picture: RasterFile): void {
  const { kernels } = ctx;
  const [width, height] = [sums[0].width[0], sums[0].height[0]];
  const rows = Math.min(ROWS, height - y0);
  const samples = Math.ceil((width * rows) / 4) * 4;
  const strips = sums.map(({ at, width: w, height: h }) => {
    const strip = at[0] + y0 * width * 4;
    if (at.length > 1) kernels.run("collapseRows", [at[0], w[0], h[0], at[1], w[1], h[1]], y0, y0 + rows);
    kernels.run("decodeSamples", [strip, strip], 0, samples, 65536);
    return strip;
  });
  kernels.withScope((scope) => kernels.run("applyMatrix", [...strips, scope.matrix(REC709_TO_WORKING)], 0, samples, 65536));
  strips.forEach((strip, c) => picture.write(0, c, y0, kernels.f32(strip, width * rows)));
}
