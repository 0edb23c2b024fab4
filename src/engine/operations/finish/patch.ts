import { sizeAtLevel } from "../../../core/geometry/rectangle";
import type { EngineContext } from "../../EngineContext";
import { composeRect, type ComposeUpTo } from "../layers/compose";
import { each } from "../frames/frameSamples";
import type { PreparedJob } from "../layers/PreparedJob";

/** Mean working RGB of a square patch in reference coordinates at full size. */
export function patchMean(ctx: EngineContext, job: PreparedJob, x: number, y: number, radius: number, upTo: ComposeUpTo): [number, number, number] {
  const { width, height } = sizeAtLevel(job.inputs.width, job.inputs.height, 0);
  const r = Math.max(0, Math.round(radius));
  const x0 = Math.max(0, Math.min(width - 1, Math.round(x) - r));
  const y0 = Math.max(0, Math.min(height - 1, Math.round(y) - r));
  const rect = { x: x0, y: y0, width: Math.min(width - x0, 2 * r + 1), height: Math.min(height - y0, 2 * r + 1) };
  return ctx.kernels.withScope((scope) => {
    const planes = composeRect(ctx, job, 0, rect, upTo, scope);
    const n = rect.width * rect.height;
    return each(planes).map((at) => ctx.kernels.f32(at, n).reduce((sum, v) => sum + v, 0) / n) as [number, number, number];
  });
}
