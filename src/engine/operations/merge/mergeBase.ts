import type { EngineContext } from "../../EngineContext";
import { contentKey } from "../../graph/keys";
import type { Task } from "../../task";
import { allocatePlanes, each, readWorking } from "../frames/frameSamples";
import { storedMerge } from "./storedMerge";
import type { MergeInputs, MergeResult } from "./mergeTypes";

const BASE_VERSION = 1;
const ROWS = 128;

/** One frame as it is, into which others come place by place. @param base index into the frames */
export async function mergeBase(ctx: EngineContext, inputs: MergeInputs, base: number, task: Task): Promise<MergeResult> {
  const key = contentKey("base", BASE_VERSION, [inputs.key, base]);
  return storedMerge(ctx, key, inputs, async ({ picture, dominant, shares }) => {
    const { kernels } = ctx;
    const { width, height, frames } = inputs;
    const { file, color } = frames[base];
    for (let y0 = 0; y0 < height; y0 += ROWS) {
      await task.step(y0, height, "task.layingBase");
      const rows = Math.min(ROWS, height - y0);
      const n = width * rows;
      kernels.withScope((scope) => {
        const planes = allocatePlanes(scope, n);
        readWorking(scope, file, color, 0, { x: 0, y: y0, width, height: rows }, planes);
        each(planes).forEach((plane, c) => picture.write(0, c, y0, kernels.f32(plane, n)));
      });
      dominant.write(0, 0, y0, new Uint8Array(n).fill(base));
    }
    const { width: columns, height: lines } = shares.spec;
    frames.forEach((_, k) => shares.write(0, k, 0, new Uint8Array(columns * lines).fill(k === base ? 255 : 0)));
  });
}
