import { atLevel, multiply, project, type Matrix3 } from "../../core/geometry/matrix3";
import { sizeAtLevel, type Rectangle } from "../../core/geometry/rectangle";
import { cosine, sine } from "../../core/numeric/elementary";
import type { Records } from "../../document/records/types";
import { geometryOf, registrationOf } from "../../document/selectors";
import type { Scope } from "../../kernels/Kernels";
import type { EngineContext } from "../EngineContext";
import { composeRect, documentSize, type ComposeUpTo, type PreparedJob } from "./compose";
import { allocatePlanes, each, type Planes } from "./frameSamples";

export interface OutputGeometry {
  angleDeg: number;
  crop: Rectangle;
}

/** The crop in force: as set, else as proposed by the registration, else the whole reference. */
export function outputGeometry(records: Records): OutputGeometry {
  const set = geometryOf(records);
  if (set) return { angleDeg: set.angleDeg, crop: set.crop };
  const proposed = registrationOf(records)?.proposedCrop;
  const size = documentSize(records);
  return { angleDeg: 0, crop: proposed ?? { x: 0, y: 0, width: size?.width ?? 1, height: size?.height ?? 1 } };
}

/** Output px → reference px at full size: shift by the crop, then turn back about the reference's centre. */
export function outputToReference(g: OutputGeometry, size: { width: number; height: number }): Matrix3 {
  const angle = (g.angleDeg * Math.PI) / 180;
  const c = cosine(angle);
  const s = sine(angle);
  const cx = (size.width - 1) / 2;
  const cy = (size.height - 1) / 2;
  const turnBack = [c, s, cx - c * cx - s * cy, -s, c, cy + s * cx - c * cy, 0, 0, 1];
  return multiply(turnBack, [1, 0, g.crop.x, 0, 1, g.crop.y, 0, 0, 1]);
}

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
  const at = scope.doubles(matrix);
  each(out).forEach((plane, c) => {
    ctx.kernels.run(
      "rotateRows",
      [each(source)[c], window.width, window.height, x0, y0, at, plane, rect.x, rect.width, rect.y],
      rect.y,
      rect.y + rect.height,
      32,
    );
  });
  return out;
}
