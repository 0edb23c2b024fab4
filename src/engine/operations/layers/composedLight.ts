import { LUMINANCE } from "../../../core/color/primaries";
import type { Rectangle } from "../../../core/geometry/rectangle";
import { log2 } from "../../../core/numeric/elementary";
import { stripRows } from "./layerReach";
import type { EngineContext } from "../../EngineContext";
import type { Task } from "../../task";
import { composeRect } from "./compose";
import { each } from "../frames/frameSamples";
import type { PreparedJob } from "./PreparedJob";

const DARKEST = 1e-5;

/** Log2 luminance of the picture with its layers, strip by strip. */
export async function composedLight(ctx: EngineContext, job: PreparedJob, level: number, rect: Rectangle, task: Task): Promise<Float32Array> {
  const out = new Float32Array(rect.width * rect.height);
  const rows = stripRows(job.records, level);
  for (let y = 0; y < rect.height; y += rows) {
    const strip = { ...rect, y: rect.y + y, height: Math.min(rows, rect.height - y) };
    const n = strip.width * strip.height;
    ctx.kernels.withScope((scope) => {
      const [r, g, b] = each(composeRect(ctx, job, level, strip, "layers", scope)).map((at) => ctx.kernels.f32(at, n));
      for (let i = 0; i < n; i++) out[y * rect.width + i] = log2(Math.max(DARKEST, LUMINANCE[0] * r[i] + LUMINANCE[1] * g[i] + LUMINANCE[2] * b[i]));
    });
    await task.step(y, rect.height, "task.picture");
  }
  return out;
}
