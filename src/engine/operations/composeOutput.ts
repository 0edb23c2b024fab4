import { atLevel, project } from "../../core/geometry/matrix3";
import { sizeAtLevel, type Rectangle } from "../../core/geometry/rectangle";
import { outputGeometry, outputToReference } from "../../document/outputGeometry";
import type { Scope } from "../../kernels/Kernels";
import type { EngineContext } from "../EngineContext";
import { composeRect, type ComposeUpTo, type PreparedJob } from "./compose";
import { warpParameters } from "./placeFrame";
import { allocatePlanes, each, type Planes } from "./frameSamples";

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
  const corners = [
    [0, 0],
    [rect.width - 1, 0],
    [0, rect.height - 1],
    [rect.width - 1, rect.height - 1],
  ].map(([x, y]) => project(matrix, rect.x + x, rect.y + y));
  const clamp = (v: number, top: number) => Math.max(0, Math.min(top, v));
  const x0 = clamp(Math.floor(Math.min(...corners.map((c) => c[0]))) - 2, bounds.width - 4);
  const y0 = clamp(Math.floor(Math.min(...corners.map((c) => c[1]))) - 2, bounds.height - 4);
  const x1 = clamp(Math.ceil(Math.max(...corners.map((c) => c[0]))) + 4, bounds.width);
  const y1 = clamp(Math.ceil(Math.max(...corners.map((c) => c[1]))) + 4, bounds.height);
  const window = { x: x0, y: y0, width: Math.max(4, x1 - x0), height: Math.max(4, y1 - y0) };
  const source = composeRect(ctx, job, level, window, upTo, scope);
  const out = allocatePlanes(scope, rect.width * rect.height);
  const at = scope.doubles(warpParameters(matrix, null, bounds));
  each(out).forEach((plane, c) => {
    ctx.kernels.run(
      "warpFloatRows",
      [each(source)[c], window.width, window.height, x0, y0, at, plane, rect.x, rect.width, rect.y],
      rect.y,
      rect.y + rect.height,
      32,
    );
  });
  return out;
}
