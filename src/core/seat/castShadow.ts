import { atLevel, invert, multiply, type Matrix3 } from "../geometry/matrix3";
import type { Rectangle } from "../geometry/rectangle";
import { cross, unit, type Vector3 } from "../panorama/camera";
import type { GroundCamera } from "./groundCamera";

/** What stands on the ground and takes light away: how much of each px it covers, 0..1, as it is seen in the plate. */
export interface Body {
  alpha: Float32Array;
  width: number;
  height: number;
  /** px of the plate → samples of alpha */
  toSamples: Matrix3;
  /** how deep it is, as a share of how wide: 1 is round */
  depth: number;
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
  const across = acrossOf(foot);
  const samples = bodySamples(camera, foot, across, body);
  const scale = 2 ** level;
  const hidden = (ray: Ray, dx: number, dz: number): number => {
    const ahead = -(dx * ray.mx + dz * ray.mz);
    if (ahead <= 0) return 0;
    return samples((dx * ray.ex + dz * ray.ez) * ray.narrow, ahead * ray.rise);
  };
  for (let y = 0; y < rect.height; y++) {
    for (let x = 0; x < rect.width; x++) {
      const place = camera.placeAt((rect.x + x + 0.5) * scale - 0.5, (rect.y + y + 0.5) * scale - 0.5);
      if (!place) continue;
      const [dx, dz] = [place[0] - foot[0], place[2] - foot[2]];
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

/** Reads what covers a place of the upright plane of a thing that faces the camera: metres to the right of its foot, and over the ground. */
function bodySamples(camera: GroundCamera, foot: Vector3, across: Vector3, { alpha, width, height, toSamples }: Body): (u: number, y: number) => number {
  const { stance, size } = camera;
  const axes = camera.axesInCamera;
  const local = (v: Vector3): Vector3 => [0, 1, 2].map((k) => v[0] * axes.right[k] + v[1] * axes.up[k] + v[2] * axes.ahead[k]) as Vector3;
  const [a, b, c] = [local(across), local([0, 1, 0]), local([foot[0], -camera.heightM, foot[2]])];
  const f = stance.focalPx;
  const intrinsic = [f, 0, (size.width - 1) / 2, 0, f, (size.height - 1) / 2, 0, 0, 1];
  const m = multiply(toSamples, multiply(intrinsic, [a[0], b[0], c[0], a[1], b[1], c[1], a[2], b[2], c[2]]));
  return (u, y) => {
    const w = m[6] * u + m[7] * y + m[8];
    const px = (m[0] * u + m[1] * y + m[2]) / w;
    const py = (m[3] * u + m[4] * y + m[5]) / w;
    if (!(w > 0) || !(px > -1) || !(py > -1) || px >= width || py >= height) return 0;
    const [i, j] = [Math.floor(px), Math.floor(py)];
    const [s, t] = [px - i, py - j];
    const at = (x: number, v: number) => (x < 0 || v < 0 || x >= width || v >= height ? 0 : alpha[v * width + x]);
    return (at(i, j) * (1 - s) + at(i + 1, j) * s) * (1 - t) + (at(i, j + 1) * (1 - s) + at(i + 1, j + 1) * s) * t;
  };
}

/** Px of a plate → samples of a rectangle of a level of something that is placed on it. @param toPlate px of the thing → px of the plate, at full size */
export function samplesOf(toPlate: Matrix3, level: number, rect: Rectangle): Matrix3 {
  const toLevel = atLevel(invert(toPlate), 0, level);
  return multiply([1, 0, -rect.x, 0, 1, -rect.y, 0, 0, 1], toLevel);
}
