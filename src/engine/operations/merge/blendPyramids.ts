import { Scope } from "../../../kernels/Kernels";
import type { EngineContext } from "../../EngineContext";
import type { Task } from "../../task";
import type { RasterFile } from "../../tiles/RasterStore";
import { readEncoded } from "../frames/frameSamples";
import { withPyramidSum } from "./PyramidSum";
import { writeShares } from "./shares";
import type { MergeInputs } from "./mergeTypes";

/** Rows at once, a multiple of SHARE_CELL; few, so that they stay near the processor. */
const ROWS = 16;

/** Writes the weights of frame k for some rows of the picture; the weights of all frames sum to one. */
export type WeightOf = (k: number, y0: number, rows: number, out: Float32Array) => void;

/**
 * Sums the weighted Laplacian pyramids of all frames in sRGB encoding, one frame after the other, and collapses the sum into working
 * light. @see Burt, Adelson 1983 @param shares filled with the weights
 */
export async function blendPyramids(
  ctx: EngineContext,
  { width, height, frames }: MergeInputs,
  weightOf: WeightOf,
  picture: RasterFile,
  task: Task,
  shares: RasterFile,
): Promise<void> {
  await withPyramidSum(ctx, picture, async (sum) => {
    for (const [k, { file, color }] of frames.entries()) {
      const held = new Scope(ctx.kernels);
      try {
        const bands = sum.frames(held, 1, ROWS, k === 0);
        const [[red, green, blue, weight]] = bands.planes;
        for (let y0 = 0; y0 < height; y0 += ROWS) {
          await task.step(0.95 * (k + y0 / height), frames.length, "task.blending");
          const y1 = Math.min(height, y0 + ROWS);
          bands.moveTo(y1);
          ctx.kernels.withScope((scope) => {
            readEncoded(scope, file, color, y0, y1 - y0, width, {
              r: red.at(y0),
              g: green.at(y0),
              b: blue.at(y0),
              length: Math.ceil(((y1 - y0) * width) / 8) * 8,
            });
          });
          weightOf(k, y0, y1 - y0, weight.samples(y0, y1));
          writeShares(ctx, shares, k, weight.at(y0), width, y0, y1 - y0);
          bands.push(y1);
        }
      } finally {
        held.release();
      }
    }
    await sum.finish((y) => task.step(0.95 + (0.05 * y) / height, 1, "task.blending"));
  });
}
