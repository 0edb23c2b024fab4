import { invert, multiply, project, type Matrix3 } from "../geometry/matrix3";
import type { Rectangle } from "../geometry/rectangle";
import type { Vector3 } from "../panorama/camera";
import type { GroundCamera } from "./groundCamera";
import type { twoFeet } from "./feet";
import type { Volume } from "./volume";

/** What stands on the ground and takes light away: how much of each px it covers, 0..1, as it is seen in the plate. */
export interface Body {
  alpha: Float32Array;
  width: number;
  height: number;
  /** the samples in which something is; null: none */
  extent: Rectangle | null;
  /** what of it goes back from there; see `volumeOf` */
  volume: Volume;
  /** where it touches the ground in two places; see `twoFeet` */
  feet: ReturnType<typeof twoFeet>;
  /** px of the plate → samples of alpha */
  toSamples: Matrix3;
  /** how deep it is, as a share of how wide each limb of it is: 1 is round */
  depth: number;
}

/** Light lower than this throws no shadow that ends, radians. */
const LOWEST = 0.01;

/** A direction of light: how far it goes across the body and away from the camera on each metre that it rises. */
export interface Ray {
  towards: Vector3;
  cu: number;
  cn: number;
  /** where in a px it is followed from, −½..½ */
  within: [number, number];
  /** how high over the foot it ends, metres; nowhere where nothing is said */
  to?: number;
}

/** Shares of the golden ratio's plane sibling, which spread evenly however many are taken. @see Roberts 2018, "The unreasonable effectiveness of quasirandom sequences" */
const SPREAD = [0.7548776662466927, 0.5698402909980532];

export function rayOf({ across, away }: Standing, towards: Vector3, k: number): Ray | null {
  const [x, y, z] = towards;
  if (y <= LOWEST) return null;
  return { towards, cu: (x * across[0] + z * across[2]) / y, cn: (x * away[0] + z * away[2]) / y, within: withinPx(k) };
}

/** Where in a px the direction of a number is followed from, −½..½. */
export const withinPx = (k: number): [number, number] => SPREAD.map((by) => ((0.5 + by * (k + 1)) % 1) - 0.5) as [number, number];

/** A body where it stands: its plane faces the camera, or runs through both of its feet, half of its depth behind them. Metres. */
export interface Standing {
  /** where its plane meets the ground, under the foot */
  base: Vector3;
  /** level, to the right and away from the camera */
  across: Vector3;
  away: Vector3;
  /** what of its plane something is in, from the base */
  box: { left: number; right: number; top: number };
  /** half of its greatest depth; and of the width of its thin limbs, as px of the ground show it */
  deepM: number;
  thinPx: number;
  /** how much of a ray it takes, 0..1, from a height over its foot on @param u across @param back away from the base, both where the ray is level with its foot */
  hides: (ray: Ray, u: number, back: number, from: number) => number;
  /** whether a cone about a ray passes it: as wide as `reach` where it begins, and that much wider on each metre that it rises */
  clears: (ray: Ray, u: number, back: number, from: number, reach: number, spread: number) => boolean;
}

export function standing(camera: GroundCamera, foot: Vector3, body: Body): Standing | null {
  const { extent, volume, width, height, alpha, depth } = body;
  if (!extent) return null;
  const { across, at } = planeOf(camera, foot, body);
  const away: Vector3 = [-across[2], 0, across[0]];
  const distance = Math.hypot(foot[0], foot[2]);
  // samples of the plane through the foot: a little behind it they are hardly smaller
  const plane = bodyPlane(camera, at, across, body);
  const [m0, m1, m2, m3, m4, m5, m6, m7, m8] = plane;
  const perSample = 0.01 / Math.max(1e-9, Math.hypot(...sub(project(plane, 0.01, 0), project(plane, 0, 0))));
  const inverse = invert(plane);
  const ends = [extent.x - 1, extent.x + extent.width].flatMap((x) => [extent.y - 1, extent.y + extent.height].map((y) => project(inverse, x, y)));
  const box = { left: Math.min(...ends.map((p) => p[0])), right: Math.max(...ends.map((p) => p[0])), top: Math.max(...ends.map((p) => p[1])) };
  const deepM = Math.max(perSample / 2, volume.deepest * perSample * depth);
  const back = volume.standsDeep * perSample * depth;
  const base: Vector3 = [at[0] + back * away[0], foot[1], at[2] + back * away[2]];
  const hides = ({ cu, cn, to = box.top }: Ray, u0: number, n0: number, from: number): number => {
    // no pairs in here: it is called millions of times before it is compiled well
    let low = Math.max(0, from);
    let high = Math.min(to, box.top);
    // where the ray is within the depth, and within the width, of the whole
    if (Math.abs(cn) > 1e-9) {
      const a = (-deepM - n0) / cn;
      const b = (deepM - n0) / cn;
      low = Math.max(low, Math.min(a, b));
      high = Math.min(high, Math.max(a, b));
    } else if (Math.abs(n0) > deepM) return 0;
    if (Math.abs(cu) > 1e-9) {
      const a = (box.left - u0) / cu;
      const b = (box.right - u0) / cu;
      low = Math.max(low, Math.min(a, b));
      high = Math.min(high, Math.max(a, b));
    } else if (u0 < box.left || u0 > box.right) return 0;
    // most that is hit is hit in the middle of its depth
    const through = Math.abs(cn) > 1e-9 ? -n0 / cn : -1;
    if (through >= low && through <= high) {
      const u = u0 + cu * through;
      const w = m6 * u + m7 * through + m8;
      const i = Math.round((m0 * u + m1 * through + m2) / w);
      const j = Math.round((m3 * u + m4 * through + m5) / w);
      if (i > 0 && j > 0 && i < width - 1 && j < height - 1) {
        const k = j * width + i;
        if (alpha[k] > SOLID && alpha[k - 1] > SOLID && alpha[k + 1] > SOLID && alpha[k - width] > SOLID && alpha[k + width] > SOLID) return 1;
      }
    }
    const least = perSample / Math.hypot(1, cu);
    let most = 0;
    for (let y = low; y < high;) {
      const u = u0 + cu * y;
      const w = m6 * u + m7 * y + m8;
      const px = (m0 * u + m1 * y + m2) / w;
      const py = (m3 * u + m4 * y + m5) / w;
      const i = Math.round(px);
      const j = Math.round(py);
      if (i < 0 || j < 0 || i >= width || j >= height) {
        y += least;
        continue;
      }
      const half = volume.half[j * width + i];
      if (half < 0) {
        y += least * Math.max(1, -half - 1);
        continue;
      }
      const beyond = Math.abs(n0 + cn * y) - Math.max(0.5, half) * perSample * depth;
      if (beyond <= 0) {
        // between samples linear, so that borders are
        const x1 = Math.min(width - 2, Math.max(0, Math.floor(px)));
        const y1 = Math.min(height - 2, Math.max(0, Math.floor(py)));
        const s = Math.min(1, Math.max(0, px - x1));
        const t = Math.min(1, Math.max(0, py - y1));
        const k = y1 * width + x1;
        most = Math.max(most, (alpha[k] * (1 - s) + alpha[k + 1] * s) * (1 - t) + (alpha[k + width] * (1 - s) + alpha[k + width + 1] * s) * t);
        if (most > SOLID) return 1;
        y += least;
      } else y += Math.max(least, (0.5 * beyond) / Math.max(1e-6, Math.abs(cn) + Math.abs(cu)));
    }
    return most;
  };
  const clears = ({ cu, cn }: Ray, u0: number, n0: number, from: number, reach: number, spread: number): boolean => {
    const speed = Math.hypot(1, cu, cn) + spread;
    // what is under its foot hides nothing, but the cone grows there
    for (let y = Math.max(0, from); y < box.top;) {
      const wide = reach + spread * (y - from);
      const u = u0 + cu * y;
      const n = n0 + cn * y;
      // how far the ray is from all of it, at least
      const off = Math.max(Math.abs(n) - deepM, box.left - u, u - box.right);
      if (off > wide) {
        y += Math.max(perSample, off - wide) / speed;
        continue;
      }
      const w = m6 * u + m7 * y + m8;
      const i = Math.round((m0 * u + m1 * y + m2) / w);
      const j = Math.round((m3 * u + m4 * y + m5) / w);
      const half = i < 0 || j < 0 || i >= width || j >= height ? 0 : volume.half[j * width + i];
      const free = half < 0 ? (-half - 1) * perSample * NEARER : 0;
      if (free <= wide) return false;
      y += (free - wide + perSample) / speed;
    }
    return true;
  };
  // the ground is seen from above, and shorter than what stands on it
  const perMetre = (camera.stance.focalPx / distance) * Math.min(1, Math.abs(camera.heightM - foot[1]) / distance);
  return { base, across, away, box, deepM, thinPx: volume.thin * perSample * Math.min(1, depth) * perMetre, hides, clears };
}

/** Alpha of what lets nothing through. */
const SOLID = 0.995;
/** A thing that leans back is nearer than it looks across its plane, at most by that share. */
const NEARER = 0.9;

const sub = (a: readonly number[], b: readonly number[]): [number, number] => [a[0] - b[0], a[1] - b[1]];

/** Level, to the right of the camera's view of a foot. */
export function acrossOf([x, , z]: Vector3): Vector3 {
  const length = Math.hypot(x, z) || 1;
  return [z / length, 0, -x / length];
}

/** How exactly the end of a foot is seen, px of the plate; what that may turn a thing by, at most, and what a thing is turned by, degrees. */
const SOLE_PX = 1.5;
const MOST_UNSURE = 20;
const MOST_TURNED = 60;

/** The way across a thing and a place in its plane on the ground: through both of its feet where they tell that surely enough, else as it is seen. */
function planeOf(camera: GroundCamera, foot: Vector3, { feet, toSamples }: Body): { across: Vector3; at: Vector3 } {
  const facing = { across: acrossOf(foot), at: foot };
  if (!feet) return facing;
  const toPlate = invert(toSamples);
  // a thing that is mirrored has them the other way round
  const px = feet.map(([x, y]) => project(toPlate, x, y)).sort((a, b) => a[0] - b[0]);
  const [left, right] = px.map(([x, y]) => camera.placeAt(x, y, foot[1]));
  if (!left || !right) return facing;
  const [dx, dz] = [right[0] - left[0], right[2] - left[2]];
  const apart = Math.hypot(dx, dz);
  const [along, deep] = [dx * facing.across[0] + dz * facing.across[2], -dx * facing.across[2] + dz * facing.across[0]];
  // a px down is so much nearer
  const perPx = Math.hypot(foot[0], foot[2]) ** 2 / (camera.stance.focalPx * Math.max(1e-6, Math.abs(camera.heightM - foot[1])));
  const unsure = (Math.atan2(SOLE_PX * perPx, along) * 180) / Math.PI;
  const turned = (Math.abs(Math.atan2(deep, along)) * 180) / Math.PI;
  if (!(along > 0) || unsure > MOST_UNSURE || turned > MOST_TURNED) return facing;
  const across: Vector3 = [dx / apart, 0, dz / apart];
  const t = (foot[0] - left[0]) * across[0] + (foot[2] - left[2]) * across[2];
  return { across, at: [left[0] + t * across[0], foot[1], left[2] + t * across[2]] };
}

/** Places of the upright plane of a thing, metres to the right of its foot and over it → samples of what is there. */
const bodyPlane = (camera: GroundCamera, foot: Vector3, across: Vector3, { toSamples }: Body): Matrix3 =>
  multiply(toSamples, camera.planeMatrix(foot, across, [0, 1, 0]));
