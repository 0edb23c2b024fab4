import { multiply, type Matrix3 } from "../core/geometry/matrix3";
import type { Rectangle } from "../core/geometry/rectangle";
import { cosine, sine } from "../core/numeric/elementary";
import type { Moved } from "./records/layerTypes";
import type { Records } from "./records/types";
import { documentSize, geometryOf, registrationOf } from "./selectors";

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

/** Reference px of a layer → where it is put: turned clockwise and scaled about the centre of the picture, then shifted. */
export function movedMatrix({ dx, dy, angleDeg, scale }: Moved, size: { width: number; height: number }): Matrix3 {
  const angle = (angleDeg * Math.PI) / 180;
  const [c, s] = [scale * cosine(angle), scale * sine(angle)];
  const [cx, cy] = [(size.width - 1) / 2, (size.height - 1) / 2];
  return [c, -s, cx - c * cx + s * cy + dx, s, c, cy - s * cx - c * cy + dy, 0, 0, 1];
}
