import { isConvex, multiply, unitSquareTo, type Matrix3, type Place } from "../core/geometry/matrix3";
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

interface Size {
  width: number;
  height: number;
}

/**
 * Px of what a layer shows → where it is put: corners pulled, turned clockwise and scaled about its centre, which lies on that of the picture,
 * then shifted. @param size of the picture @param own of what the layer shows
 */
export function movedMatrix({ dx, dy, angleDeg, scale, corners }: Moved, size: Size, own: Size = size): Matrix3 {
  const angle = (angleDeg * Math.PI) / 180;
  const [c, s] = [scale * cosine(angle), scale * sine(angle)];
  const [cx, cy] = [(own.width - 1) / 2, (own.height - 1) / 2];
  const [x, y] = [(size.width - 1) / 2 + dx, (size.height - 1) / 2 + dy];
  const turned = [c, -s, x - c * cx + s * cy, s, c, y - s * cx - c * cy, 0, 0, 1];
  return corners.some((v) => v !== 0) ? multiply(turned, pulledMatrix(corners, own)) : turned;
}

/** The homography that pulls the corners of a picture; as if unpulled where they would fold it over. */
function pulledMatrix(corners: readonly number[], { width, height }: Size): Matrix3 {
  const [right, bottom] = [width - 1, height - 1];
  const to = pulledCorners(corners, { width, height });
  return isConvex(to) ? multiply(unitSquareTo(to), [1 / right, 0, 0, 0, 1 / bottom, 0, 0, 0, 1]) : [1, 0, 0, 0, 1, 0, 0, 0, 1];
}

/** Where the pulled corners of a picture lie before it is turned, scaled and shifted: top left, top right, bottom right, bottom left. */
export function pulledCorners(corners: readonly number[], { width, height }: Size): Place[] {
  const [right, bottom] = [width - 1, height - 1];
  return [0, right, right, 0].map((x, i): Place => [x + corners[2 * i], (i < 2 ? 0 : bottom) + corners[2 * i + 1]]);
}
