import type { EngineContext } from "../EngineContext";
import { contentKey } from "../graph/keys";
import { portion, type Task } from "../task";
import { MemoryRasterStore } from "../tiles/MemoryRasterStore";
import type { RasterFile } from "../tiles/RasterStore";
import { allocatePlanes, each, readEncoded } from "./frameSamples";
import { blendPyramids, type WeightOf } from "./blendPyramids";
import { fillCoverage, type MergeInputs, type MergeResult } from "./mergeInputs";
import { openMerge } from "./openMerge";
import { writeShares } from "./shares";

const FUSION_VERSION = 2;
/** Rows at once, a multiple of SHARE_CELL; few, so that those of all frames stay near the processor. */
const ROWS = 32;
const MEMORY_BYTES = 256 * 1024 * 1024;

export interface FusionWeights {
  contrast: number;
  saturation: number;
  exposedness: number;
}

/** Exposure fusion on sRGB-encoded values. @see Mertens, Kautz, Van Reeth 2007 */
export async function openFusion(ctx: EngineContext, inputs: MergeInputs, exponents: FusionWeights, task: Task): Promise<MergeResult> {
  const key = await contentKey("fusion", FUSION_VERSION, [inputs.key, exponents]);
  return openMerge(ctx, key, inputs, async (result) => {
    const { width, height, frames } = inputs;
    const weightKey = `${key}-weights`;
    // what fits into the memory cache spares the way over the store
    const store = width * height * frames.length * 4 <= MEMORY_BYTES ? new MemoryRasterStore() : ctx.store;
    const weights = await store.create(weightKey, { width, height, channels: frames.length, type: "f32", levels: 1 });
    try {
      for (let y0 = 0; y0 < height; y0 += ROWS) {
        await task.step(y0 * 0.35, height, "Weighing the frames");
        weighStrip(ctx, inputs, exponents, weights, result, y0, Math.min(height, y0 + ROWS));
      }
      const weightOf: WeightOf = (k, y0, rows, out) => weights.read(0, k, 0, y0, width, rows, out);
      await blendPyramids(ctx, inputs, weightOf, result.picture, portion(task, 0.35, 1));
    } finally {
      await store.remove(weightKey);
    }
  });
}

function weighStrip(
  ctx: EngineContext,
  inputs: MergeInputs,
  { contrast, saturation, exposedness }: FusionWeights,
  weights: RasterFile,
  { dominant, shares }: MergeResult,
  y0: number,
  y1: number,
): void {
  const { kernels } = ctx;
  const { width, height, frames } = inputs;
  const rows = y1 - y0;
  const n = width * rows;
  // contrast looks at the rows above and below
  const top = Math.max(0, y0 - 1);
  const all = Math.min(height, y1 + 1) - top;
  kernels.withScope((scope) => {
    const weighed = frames.map((input) => {
      const weight = scope.floats(n + 16);
      kernels.withScope((inner) => {
        const planes = allocatePlanes(inner, width * all);
        readEncoded(inner, input.file, input.color, top, all, width, planes);
        const coverage = inner.floats(n + 16);
        fillCoverage(kernels, input, width, y0, y1, coverage);
        // kernels count rows from the top of the picture
        const above = each(planes).map((plane) => plane - top * width * 4);
        const [covered, out] = [coverage, weight].map((plane) => plane - y0 * width * 4);
        kernels.run("fusionWeightRows", [...above, width, height, covered, out, contrast, saturation, exposedness], y0, y1);
      });
      return weight;
    });
    const table = scope.bytes(weighed.length * 4);
    kernels.u32(table, weighed.length).set(weighed);
    const index = scope.bytes(n + 16);
    kernels.run("shareWeights", [weighed.length, table, index], 0, Math.ceil(n / 4) * 4, 65536);
    weighed.forEach((weight, k) => {
      weights.write(0, k, y0, kernels.f32(weight, n));
      writeShares(ctx, shares, k, weight, width, y0, rows);
    });
    dominant.write(0, 0, y0, kernels.u8(index, n));
  });
}
