import { atLevel, invert, multiply, project, type Matrix3 } from "../geometry/matrix3";
import { intersect, type Rectangle } from "../geometry/rectangle";
import { cross, unit, type Vector3 } from "../panorama/camera";
import type { GroundCamera } from "./groundCamera";

/** What stands on the ground and takes light away: how much of each px it covers, 0..1, as it is seen in the plate. */
export interface Body {
  alpha: Float32Array;
  width: number;
  height: number;
  /** the samples in which something is; null: none */
  extent: Rectangle | null;
  /** px of the plate → samples of alpha */
  toSamples: Matrix3;
  /** how deep it is, as a share of how wide: 1 is round */
  depth: number;
}

/** Where samples cover something. */
export function extentOf(alpha: Float32Array, width: number, height: number): Rectangle | null {
  let [x0, y0, x1, y1] = [width, height, -1, -1];
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      if (alpha[y * width + x] === 0) continue;
      if (x < x0) x0 = x;
      if (x > x1) x1 = x;
      if (y < y0) y0 = y;
      y1 = y;
    }
  }
  return x1 < 0 ? null : { x: x0, y: y0, width: x1 - x0 + 1, height: y1 - y0 + 1 };
}

/** Directions that stand for a source: rows and columns of them. */
const SIDE = 8;
/** Of these the first are asked alone: where they agree the others do. */
const FIRST = 12;
/** Light lower than this throws no shadow that ends, radians. */
const LOWEST = 0.01;

/** Directions spread evenly over the disc of a source, those that lie far apart first. @param widthDeg as seen from the ground @see Shirley and Chiu 1997, the concentric map */
export function discDirections(towards: Vector3, widthDeg: number): Vector3[] {
  const radius = Math.tan((widthDeg * Math.PI) / 360);
  const across = unit(cross(towards, Math.abs(towards[1]) < 0.99 ? [0, 1, 0] : [1, 0, 0]));
  const up = cross(across, towards);
  return spread((r, angle) => {
    const [a, b] = [radius * r * Math.cos(angle), radius * r * Math.sin(angle)];
    return unit([0, 1, 2].map((k) => towards[k] + a * across[k] + b * up[k]) as Vector3);
  });
}

/** Directions of an even sky, as often as it lights level ground from there. */
export const skyDirections = (): Vector3[] => spread((r, angle) => [r * Math.cos(angle), Math.sqrt(1 - r * r), r * Math.sin(angle)]);

/** Places of a disc of radius 1 in equal areas, shuffled so that a few of the first lie all over it. */
function spread(at: (r: number, angle: number) => Vector3): Vector3[] {
  const count = SIDE * SIDE;
  return Array.from({ length: count }, (_, i) => {
    // 29 and 64 have no common factor
    const k = (i * 29) % count;
    const [a, b] = [(2 * ((k % SIDE) + 0.5)) / SIDE - 1, (2 * (Math.floor(k / SIDE) + 0.5)) / SIDE - 1];
    const [r, angle] = Math.abs(a) > Math.abs(b) ? [a, (Math.PI / 4) * (b / a)] : [b, Math.PI / 2 - (Math.PI / 4) * (a / b)];
    return at(Math.abs(r), r < 0 ? angle + Math.PI : angle);
  });
}

/**
 * How much of a source something hides from each px of the ground, 0..1; 0 where there is no ground. The thing is upright at its foot, as it is seen in the plate, and has
 * an elliptic section: seen from another side it is as wide as that is from there.
 * @param foot where it stands @param directions towards the source, which share it evenly @param level display level @param rect at that level
 */
export function castShadow(camera: GroundCamera, foot: Vector3, body: Body, directions: readonly Vector3[], level: number, rect: Rectangle): Float32Array {
  const out = new Float32Array(rect.width * rect.height);
  const rays = directions.flatMap((d) => rayOf(foot, body.depth, d) ?? []);
  if (rays.length === 0) return out;
  const plane = bodyPlane(camera, foot, acrossOf(foot), body);
  const samples = samplesIn(body, plane);
  const scale = 2 ** level;
  const within = boundsOf(camera, foot, body, plane, rays, level, rect);
  const hidden = (ray: Ray, dx: number, dz: number): number => {
    const ahead = -(dx * ray.mx + dz * ray.mz);
    return ahead <= 0 ? 0 : samples((dx * ray.ex + dz * ray.ez) * ray.narrow, ahead * ray.rise);
  };
  // rays of px are linear in them
  const [corner, right, below] = [camera.rayOf(0, 0), camera.rayOf(1, 0), camera.rayOf(0, 1)];
  const [ix, iy, iz] = [0, 1, 2].map((k) => right[k] - corner[k]);
  const [jx, jy, jz] = [0, 1, 2].map((k) => below[k] - corner[k]);
  for (let y = within.y; y < within.y + within.height; y++) {
    const py = (rect.y + y + 0.5) * scale - 0.5;
    for (let x = within.x; x < within.x + within.width; x++) {
      const px = (rect.x + x + 0.5) * scale - 0.5;
      const t = -camera.heightM / (corner[1] + px * iy + py * jy);
      if (!(t > 0)) continue;
      const [dx, dz] = [t * (corner[0] + px * ix + py * jx) - foot[0], t * (corner[2] + px * iz + py * jz) - foot[2]];
      let sum = 0;
      let k = 0;
      for (; k < rays.length; k++) {
        if (k === FIRST && (sum === 0 || sum === FIRST)) break;
        sum += hidden(rays[k], dx, dz);
      }
      // directions under the ground hide nothing
      out[y * rect.width + x] = (sum / k) * (rays.length / directions.length);
    }
  }
  return out;
}

/** What of a rectangle a shadow can reach, counted from its corner: where each direction throws the corners of what is there. */
function boundsOf(camera: GroundCamera, foot: Vector3, { extent }: Body, plane: Matrix3, rays: readonly Ray[], level: number, rect: Rectangle): Rectangle {
  const none = { x: 0, y: 0, width: 0, height: 0 };
  if (!extent) return none;
  const back = invert(plane);
  const { x: x0, y: y0 } = extent;
  const corners = [x0 - 1, x0 + extent.width].flatMap((u) => [y0 - 1, y0 + extent.height].map((v) => project(back, u, v)));
  let [left, top, right, bottom] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const { mx, mz, ex, ez, narrow, rise } of rays) {
    for (const [u, y] of corners) {
      const [ahead, side] = [y / rise, u / narrow];
      const at = camera.pixelOf([foot[0] - ahead * mx + side * ex, 0, foot[2] - ahead * mz + side * ez]);
      // what falls behind the camera may pass anywhere
      if (!at) return { x: 0, y: 0, width: rect.width, height: rect.height };
      [left, top] = [Math.min(left, at[0]), Math.min(top, at[1])];
      [right, bottom] = [Math.max(right, at[0]), Math.max(bottom, at[1])];
    }
  }
  const s = 2 ** level;
  const reached = {
    x: Math.floor(left / s) - 1,
    y: Math.floor(top / s) - 1,
    width: Math.ceil((right - left) / s) + 3,
    height: Math.ceil((bottom - top) / s) + 3,
  };
  const { x, y, width: w, height: h } = intersect(reached, rect);
  return w > 0 && h > 0 ? { x: x - rect.x, y: y - rect.y, width: w, height: h } : none;
}

/** A direction of light: towards it along the ground, across that, how much narrower the thing is for its own width seen from there, and how steeply it rises. */
interface Ray {
  mx: number;
  mz: number;
  ex: number;
  ez: number;
  narrow: number;
  rise: number;
}

/** Level, to the right of the camera's view of a foot. */
function acrossOf([x, , z]: Vector3): Vector3 {
  const length = Math.hypot(x, z) || 1;
  return [z / length, 0, -x / length];
}

function rayOf(foot: Vector3, depth: number, [x, y, z]: Vector3): Ray | null {
  const level = Math.hypot(x, z);
  if (y <= LOWEST || level < 1e-6) return null;
  const [mx, mz] = [x / level, z / level];
  const e = acrossOf(foot);
  // what lies to the right from the camera lies there from the light too, or to the left where that stands behind
  const [ex, ez] = e[0] * mz - e[2] * mx >= 0 ? [mz, -mx] : [-mz, mx];
  const facing = Math.abs(e[0] * ex + e[2] * ez);
  return { mx, mz, ex, ez, narrow: 1 / Math.sqrt(facing ** 2 + (1 - facing ** 2) * depth ** 2), rise: y / level };
}

/** Places of the upright plane of a thing that faces the camera, metres to the right of its foot and over the ground → samples of what is there. */
function bodyPlane(camera: GroundCamera, foot: Vector3, across: Vector3, { toSamples }: Body): Matrix3 {
  const { stance, size, axesInCamera: axes } = camera;
  const local = (v: Vector3): Vector3 => [0, 1, 2].map((k) => v[0] * axes.right[k] + v[1] * axes.up[k] + v[2] * axes.ahead[k]) as Vector3;
  const [a, b, c] = [local(across), local([0, 1, 0]), local([foot[0], -camera.heightM, foot[2]])];
  const f = stance.focalPx;
  const intrinsic = [f, 0, (size.width - 1) / 2, 0, f, (size.height - 1) / 2, 0, 0, 1];
  return multiply(toSamples, multiply(intrinsic, [a[0], b[0], c[0], a[1], b[1], c[1], a[2], b[2], c[2]]));
}

/** What covers a place of that plane, 0..1, between samples linear. */
function samplesIn({ alpha, width, height }: Body, m: Matrix3): (u: number, y: number) => number {
  const at = (x: number, y: number) => (x < 0 || y < 0 || x >= width || y >= height ? 0 : alpha[y * width + x]);
  return (u, y) => {
    const w = m[6] * u + m[7] * y + m[8];
    const px = (m[0] * u + m[1] * y + m[2]) / w;
    const py = (m[3] * u + m[4] * y + m[5]) / w;
    if (!(w > 0) || !(px > -1) || !(py > -1) || px >= width || py >= height) return 0;
    const [i, j] = [Math.floor(px), Math.floor(py)];
    const [s, t] = [px - i, py - j];
    return (at(i, j) * (1 - s) + at(i + 1, j) * s) * (1 - t) + (at(i, j + 1) * (1 - s) + at(i + 1, j + 1) * s) * t;
  };
}

/** Px of a plate → samples of a rectangle of a level of something that is placed on it. @param toPlate px of the thing → px of the plate, at full size */
export function samplesOf(toPlate: Matrix3, level: number, rect: Rectangle): Matrix3 {
  const toLevel = atLevel(invert(toPlate), 0, level);
  return multiply([1, 0, -rect.x, 0, 1, -rect.y, 0, 0, 1], toLevel);
}
