import type { Size } from "../geometry/lens";
import { solveSymmetric } from "../numeric/linearSystem";
import type { Vector3 } from "../panorama/camera";
import { offBy, type Line } from "./lines";
import { worldAxes, type Stance } from "./upright";

/** What is known of the lens before: its focal length, and how sure that is as a share (1 standard deviation). */
export interface KnownFocal {
  px: number;
  sigma: number;
}

/** Where lines that are parallel in the world meet: on the horizon by its azimuth, degrees clockwise from straight ahead, or straight up and down. */
export interface Point {
  of: "level" | "upright";
  azimuthDeg: number;
}

export interface FittedStance<P extends Point> {
  stance: Stance;
  points: P[];
  /** standard deviation of where the horizon lies within the picture, degrees, and of the focal length, a share */
  horizonSigmaDeg: number;
  focalSigma: number;
  /** what lines miss, multiples of their uncertainty */
  rms: number;
}

const RAD = Math.PI / 180;
/** A lens that nothing is known of may be that far from a guess. Common practice, no source. */
const GUESS_SIGMA = 0.4;
/** How people hold cameras, degrees (1 standard deviation). Common practice, no source. */
export const HELD = { pitch: 14, roll: 3 };
/** What is built square is square to this, degrees; and no horizon is surer than that. Common practice, no source. */
const SQUARE_SIGMA = 0.3;
const NEVER_SURER = 0.05;
/** By how much lines tell a horizon worse than if each were on its own: edges of one board are one edge. Measured on rendered plates. */
const NOT_ALONE = 1.8;
/** Steps of least squares, and misses beyond which a line counts less, standard deviations. */
const STEPS = 6;
const HUBER = 1.5;

/** A level direction, or straight up, in the axes of a camera. */
export function pointDirection(stance: Stance, { of, azimuthDeg }: Point): Vector3 {
  const { right, up, ahead } = worldAxes(stance);
  if (of === "upright") return up;
  const [s, c] = [Math.sin(azimuthDeg * RAD), Math.cos(azimuthDeg * RAD)];
  return [s * right[0] + c * ahead[0], s * right[1] + c * ahead[1], s * right[2] + c * ahead[2]];
}

/**
 * Least squares of pitch, roll, focal length and azimuths, by what lines miss in multiples of their own uncertainty.
 * @param belongs for each line the point it leads to, or −1 @param square two level points that are square to each other, or null
 * @param blur added to each line's uncertainty, radians @returns null where lines do not tell them
 */
export function fitStance<P extends Point>(
  lines: readonly Line[],
  start: Stance,
  points: readonly P[],
  belongs: Int8Array,
  focal: KnownFocal,
  square: [number, number] | null,
  blur: number,
  size: Size,
): FittedStance<P> | null {
  const guess = focal.sigma === Infinity ? { px: focal.px, sigma: GUESS_SIGMA } : focal;
  const count = 3 + points.length;
  let values = [start.pitchDeg, start.rollDeg, Math.log(start.focalPx), ...points.map((p) => p.azimuthDeg)];
  const used = [...belongs.keys()].filter((i) => belongs[i] >= 0);
  const rows = used.length + 4;
  const misses = (v: number[]): Float64Array => {
    const stance = { pitchDeg: v[0], rollDeg: v[1], focalPx: Math.exp(v[2]) };
    const directions = points.map(({ of }, k) => pointDirection(stance, { of, azimuthDeg: v[3 + k] }));
    const out = new Float64Array(rows);
    used.forEach((i, row) => (out[row] = offBy(lines[i], directions[belongs[i]], stance.focalPx) / Math.hypot(lines[i].sigma, blur)));
    out[rows - 4] = v[0] / HELD.pitch;
    out[rows - 3] = v[1] / HELD.roll;
    out[rows - 2] = (v[2] - Math.log(guess.px)) / guess.sigma;
    out[rows - 1] = square ? (Math.abs(v[3 + square[0]] - v[3 + square[1]]) - 90) / SQUARE_SIGMA : 0;
    return out;
  };
  let normal = new Float64Array(0);
  let [spread, rms] = [1, 0];
  for (let step = 0; step < STEPS; step++) {
    const at = misses(values);
    const columns = values.map((value, k) => {
      const h = 1e-4;
      const moved = misses(values.with(k, value + h));
      return moved.map((m, i) => (m - at[i]) / h);
    });
    normal = new Float64Array(count * count);
    const right = new Float64Array(count);
    let [sum, weights] = [0, 0];
    for (let i = 0; i < rows; i++) {
      const w = i < used.length ? lines[used[i]].weight / Math.max(1, Math.abs(at[i]) / HUBER) : 1;
      if (i < used.length) [sum, weights] = [sum + w * at[i] * at[i], weights + w];
      for (let a = 0; a < count; a++) {
        right[a] -= w * columns[a][i] * at[i];
        for (let b = 0; b < count; b++) normal[a * count + b] += w * columns[a][i] * columns[b][i];
      }
    }
    rms = Math.sqrt(sum / Math.max(1e-9, weights));
    spread = Math.max(1, sum / Math.max(1, weights - count));
    // an azimuth of what is upright stands for nothing
    points.forEach((p, k) => p.of === "upright" && (normal[(3 + k) * count + 3 + k] += 1));
    const change = solveSymmetric(normal, right);
    if (!change || !change.every(Number.isFinite)) return null;
    values = values.map((v, k) => v + change[k]);
  }
  const variance = (k: number): number => {
    const e = new Float64Array(count);
    e[k] = 1;
    return (solveSymmetric(normal, e)?.[k] ?? Infinity) * spread;
  };
  const stance = { pitchDeg: values[0], rollDeg: values[1], focalPx: Math.exp(values[2]) };
  // where the horizon lies: pitch times the lens is one figure, which the pixels tell whatever the lens
  const share = size.width / 2 / stance.focalPx;
  const lift = liftVariance(normal, count, stance) * spread;
  const horizonSigmaDeg = Math.hypot(NOT_ALONE * Math.hypot(Math.sqrt(lift), Math.sqrt(variance(1)) * Math.min(1, share)), NEVER_SURER);
  const moved = points.map((p, k) => ({ ...p, azimuthDeg: p.of === "upright" ? 0 : values[3 + k] }));
  return { stance, points: moved, horizonSigmaDeg, focalSigma: Math.sqrt(variance(2)), rms };
}

/** Variance of the height of the horizon in the middle of the picture, degrees²: of pitch and focal length together. */
function liftVariance(normal: Float64Array, count: number, { pitchDeg }: Stance): number {
  const [s, c] = [Math.sin(pitchDeg * RAD), Math.cos(pitchDeg * RAD)];
  // height / focal = tan(pitch); its change, seen from the camera: d pitch / cos² + tan · d log focal, times cos²
  const g = new Float64Array(count);
  g[0] = 1;
  g[2] = (s * c) / RAD;
  const x = solveSymmetric(normal, g);
  return x ? g.reduce((sum, v, k) => sum + v * x[k], 0) : Infinity;
}
