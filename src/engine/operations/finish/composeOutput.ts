import { atLevel } from "../../../core/geometry/matrix3";
import { sizeAtLevel, type Rectangle } from "../../../core/geometry/rectangle";
import { outputGeometry, outputToReference } from "../../../document/outputGeometry";
import type { Scope } from "../../../kernels/Kernels";
import type { EngineContext } from "../../EngineContext";
import { composeRect, type ComposeUpTo } from "../layers/compose";
import { resample } from "../frames/resample";
import type { Planes } from "../frames/frameSamples";
import type { PreparedJob } from "../layers/PreparedJob";

/** Working planes of a rectangle in output coordinates at a display level. */
export function composeOutput(ctx: EngineContext, job: PreparedJob, level: number, rect: Rectangle, upTo: ComposeUpTo, scope: Scope): Planes {
  const geometry = outputGeometry(job.records);
  const size = { width: job.inputs.width, height: job.inputs.height };
  const bounds = sizeAtLevel(size.width, size.height, level);
  const { crop } = geometry;
  const step = 2 ** level;
  if (geometry.angleDeg === 0 && crop.x % step === 0 && crop.y % step === 0) {
    const shifted = { ...rect, x: rect.x + crop.x / step, y: rect.y + crop.y / step };
    if (shifted.x + shifted.width <= bounds.width && shifted.y + shifted.height <= bounds.height) return composeRect(ctx, job, level, shifted, upTo, scope);
  }
  const matrix = atLevel(outputToReference(geometry, size), level);
  return resample(scope, matrix, rect, bounds, (window) => composeRect(ctx, job, level, window, upTo, scope));
}
