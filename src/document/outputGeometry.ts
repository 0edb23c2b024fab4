import { invert, isConvex, multiply, project, unitSquareTo, type Matrix3, type Place } from "../core/geometry/matrix3";
import type { Rectangle } from "../core/geometry/rectangle";
import { tiltMatrix, type Tilt } from "../core/geometry/tilt";
import { cosine, sine } from "../core/numeric/elementary";
import type { Moved } from "../kinds/contents/frame/record";
import type { Records } from "./records/types";
import { documentSize, geometryOf, mergedFramesOf, registrationOf } from "./selectors";

export interface OutputGeometry {
  angleDeg: number;
  /** how the camera was turned after the fact; absent: not at all */
  tilt?: Tilt;
  crop: Rectangle;
}

/** The crop in force: as set, else as proposed by the registration, else the whole reference. It never reaches farther than the picture does, however it is turned. */
export function outputGeometry(records: Records): OutputGeometry {
  const set = geometryOf(records);
  const size = documentSize(records);
  const whole = { x: 0, y: 0, width: size?.width ?? 1, height: size?.height ?? 1 };
  const turned = { angleDeg: set?.angleDeg ?? 0, ...(set?.tilt ? { tilt: set.tilt } : {}) };
  return { ...turned, crop: reached(set?.crop ?? registrationOf(records)?.proposedCrop ?? whole, whole, extentOf(turned, whole)) };
}

/** What the whole picture reaches, however it is turned: all turns about its centre, or its corners where its camera was turned too. */
export function extentOf({ angleDeg, tilt }: Omit<OutputGeometry, "crop">, { width, height }: Size): Rectangle {
  const corners = tilt
    ? cornersOf(invert(outputToReference({ angleDeg, tilt, crop: { x: 0, y: 0, width, height } }, { width, height })), { width, height })
    : [-1, 1].map((side): Place => [width / 2 + (side * Math.hypot(width, height)) / 2, height / 2 + (side * Math.hypot(width, height)) / 2]);
  const [xs, ys] = [0, 1].map((k) => corners.map((p) => p[k]));
  const [x, y] = [Math.floor(Math.min(...xs)), Math.floor(Math.min(...ys))];
  return { x, y, width: Math.ceil(Math.max(...xs)) - x, height: Math.ceil(Math.max(...ys)) - y };
}

const cornersOf = (map: Matrix3, { width, height }: Size): Place[] => [0, width - 1].flatMap((x) => [0, height - 1].map((y): Place => project(map, x, y)));

/** What of a crop the picture reaches; all of the picture where that is nothing. */
function reached(crop: Rectangle, whole: Rectangle, extent: Rectangle): Rectangle {
  const clamp = (v: number, from: number, length: number) => Math.min(from + length, Math.max(from, v));
  const [x, y] = [clamp(crop.x, extent.x, extent.width), clamp(crop.y, extent.y, extent.height)];
  const [width, height] = [clamp(crop.x + crop.width, extent.x, extent.width) - x, clamp(crop.y + crop.height, extent.y, extent.height) - y];
  if (x === crop.x && y === crop.y && width === crop.width && height === crop.height) return crop;
  return width > 0 && height > 0 ? { x, y, width, height } : whole;
}

/** Output px → reference px at full size: shift by the crop, turn back about the reference's centre, then the camera back to where it was. */
export function outputToReference(g: OutputGeometry, size: { width: number; height: number }): Matrix3 {
  const angle = (g.angleDeg * Math.PI) / 180;
  const c = cosine(angle);
  const s = sine(angle);
  const cx = (size.width - 1) / 2;
  const cy = (size.height - 1) / 2;
  const turnBack = [c, s, cx - c * cx - s * cy, -s, c, cy + s * cx - c * cy, 0, 0, 1];
  const turned = multiply(turnBack, [1, 0, g.crop.x, 0, 1, g.crop.y, 0, 0, 1]);
  return g.tilt ? multiply(invert(tiltMatrix(g.tilt, size)), turned) : turned;
}

interface Size {
  width: number;
  height: number;
}

/** Size of what a layer of a frame shows: a merged frame lies on the picture and has its size, any other its own; null where there is no picture or no such frame. */
export function shownSize(records: Records, frameId: string): Size | null {
  const frame = records[frameId];
  if (frame?.kind !== "frame") return null;
  return mergedFramesOf(records).some((m) => m.frame.id === frameId) ? documentSize(records) : frame;
}

/**
 * Px of what a layer shows → where it is put: mirrored, corners pulled, turned clockwise and scaled about its centre, which lies on that of the picture,
 * then shifted. @param size of the picture @param own of what the layer shows
 */
export function movedMatrix({ dx, dy, angleDeg, scale, corners, mirrored }: Moved, size: Size, own: Size = size): Matrix3 {
  const angle = (angleDeg * Math.PI) / 180;
  const [c, s] = [scale * cosine(angle), scale * sine(angle)];
  const [cx, cy] = [(own.width - 1) / 2, (own.height - 1) / 2];
  const [x, y] = [(size.width - 1) / 2 + dx, (size.height - 1) / 2 + dy];
  const turned = [c, -s, x - c * cx + s * cy, s, c, y - s * cx - c * cy, 0, 0, 1];
  const pulled = corners.some((v) => v !== 0) ? multiply(turned, pulledMatrix(corners, own)) : turned;
  return mirrored ? multiply(pulled, mirrorOf(own)) : pulled;
}

/** Left for right. */
const mirrorOf = ({ width }: Size): Matrix3 => [-1, 0, width - 1, 0, 1, 0, 0, 0, 1];

/** What puts what a layer shows where a map has it, as it is or mirrored: the inverse of `movedMatrix`. @param toPicture px of what it shows → px of the picture */
export function movedOf(toPicture: Matrix3, size: Size, own: Size = size): Moved {
  const [cx, cy] = [(own.width - 1) / 2, (own.height - 1) / 2];
  const [x, y] = project(toPicture, cx, cy);
  const [[ux, uy], [vx, vy]] = [project(toPicture, cx + 1, cy), project(toPicture, cx, cy + 1)];
  const turnsOver = (ux - x) * (vy - y) < (uy - y) * (vx - x);
  if (turnsOver) return { ...movedOf(multiply(toPicture, mirrorOf(own)), size, own), mirrored: true };
  // the similarity that comes nearest about the middle; pulled corners are what is left
  const [c, s] = [(ux - x + vy - y) / 2, (uy - y - vx + x) / 2];
  const moved = {
    dx: x - (size.width - 1) / 2,
    dy: y - (size.height - 1) / 2,
    angleDeg: (Math.atan2(s, c) * 180) / Math.PI,
    scale: Math.hypot(c, s),
    corners: [0, 0, 0, 0, 0, 0, 0, 0],
  };
  const back = multiply(invert(movedMatrix(moved, size, own)), toPicture);
  const [right, bottom] = [own.width - 1, own.height - 1];
  const corners = [0, right, right, 0].flatMap((u, i) => {
    const v = i < 2 ? 0 : bottom;
    const [px, py] = project(back, u, v);
    return [px - u, py - v];
  });
  return { ...moved, corners: corners.some((v) => Math.abs(v) > LEAST_PULL) ? corners : moved.corners };
}

/** Corners that are pulled by less lie where they are, px. */
const LEAST_PULL = 1e-3;

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
