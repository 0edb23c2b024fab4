import { cosine, sine } from "../numeric/elementary";
import { solveSymmetric } from "../numeric/linearSystem";
import type { Size } from "./lens";
import { multiply, project, type Matrix3, type Place } from "./matrix3";

/** A camera turned after the fact, about the middle of its picture: degrees it is taken to have looked up and to the right, and its focal length in px. */
export interface Tilt {
  pitchDeg: number;
  yawDeg: number;
  focalPx: number;
}

/** A line of the picture that is said to be upright or level, px. */
export interface GuideLine {
  is: "upright" | "level";
  from: [number, number];
  to: [number, number];
}

/** How far a picture may be turned, how far its camera may be either way, degrees, and the shortest lens, of the picture's diagonal: beyond, corners fly away. */
export const MOST_TURN = 20;
export const MOST_TILT = 30;
export const SHORTEST_LENS = 0.45;
const RAD = Math.PI / 180;

/** Px of the picture as shot → px as the turned camera would have shown them; its middle stays, as large as it was. The homography of a turn about the lens: K R K⁻¹ */
export function tiltMatrix({ pitchDeg, yawDeg, focalPx }: Tilt, { width, height }: Size): Matrix3 {
  const f = Math.max(focalPx, SHORTEST_LENS * Math.hypot(width, height));
  const [cx, cy] = [(width - 1) / 2, (height - 1) / 2];
  const [cp, sp, cq, sq] = [cosine(pitchDeg * RAD), sine(pitchDeg * RAD), cosine(yawDeg * RAD), sine(yawDeg * RAD)];
  const pitch = [1, 0, 0, 0, cp, -sp, 0, sp, cp];
  const yaw = [cq, 0, -sq, 0, 1, 0, sq, 0, cq];
  const turned = multiply(multiply(pitch, yaw), [1 / f, 0, -cx / f, 0, 1 / f, -cy / f, 0, 0, 1]);
  const there = multiply([f, 0, 0, 0, f, 0, 0, 0, 1], turned);
  const [mx, my] = project(there, cx, cy);
  const scale = 1 / Math.sqrt(enlargement(there, cx, cy));
  return multiply([scale, 0, cx - scale * mx, 0, scale, cy - scale * my, 0, 0, 1], there);
}

/** How much larger an area becomes at a place, by the derivatives of a map there. */
export function enlargement(m: Matrix3, x: number, y: number): number {
  const w = m[6] * x + m[7] * y + m[8];
  const determinant = m[0] * (m[4] * m[8] - m[5] * m[7]) - m[1] * (m[3] * m[8] - m[5] * m[6]) + m[2] * (m[3] * m[7] - m[4] * m[6]);
  return Math.abs(determinant / (w * w * w));
}

/** How far a line is from what it is said to be once a map is applied, degrees, −90..90. */
export function lineOffDeg(map: Matrix3, { is, from, to }: GuideLine): number {
  const [a, b] = [project(map, ...(from as Place)), project(map, ...(to as Place))];
  const [dx, dy] = [b[0] - a[0], b[1] - a[1]];
  const off = is === "upright" ? Math.atan2(dx, dy) : Math.atan2(-dy, dx);
  return foldedDeg(off / RAD);
}

/** A line has no direction. */
const foldedDeg = (deg: number): number => (deg > 90 ? deg - 180 : deg <= -90 ? deg + 180 : deg);

/** What a drawn line is nearer to. */
export const nearerTo = ([x0, y0]: Place, [x1, y1]: Place): GuideLine["is"] => (Math.abs(x1 - x0) < Math.abs(y1 - y0) ? "upright" : "level");

export interface Straightened {
  angleDeg: number;
  pitchDeg: number;
  yawDeg: number;
}

/** Step of derivatives, degrees; steps of least squares; and how far a turn is kept from running off where lines hardly tell it. */
const [STEP, PASSES, HELD] = [0.01, 25, 1e-7];

/**
 * Turns of the picture and its camera under which lines become what they are said to be, by least squares of their angles. One line turns the picture alone; two that are upright tell how far the camera looked up,
 * two that are level how far aside.
 * @param mapOf px → px for an angle of the picture (clockwise) and a turn of the camera, degrees @returns null without a line, or where lines contradict what a camera can do
 */
export function straightenBy(lines: readonly GuideLine[], mapOf: (turn: Straightened) => Matrix3): Straightened | null {
  const count = (is: GuideLine["is"]) => lines.filter((l) => l.is === is).length;
  const free: (keyof Straightened)[] = ["angleDeg", ...(count("upright") > 1 ? ["pitchDeg" as const] : []), ...(count("level") > 1 ? ["yawDeg" as const] : [])];
  if (lines.length === 0) return null;
  const at: Straightened = { angleDeg: 0, pitchDeg: 0, yawDeg: 0 };
  for (let pass = 0; pass < PASSES; pass++) {
    const map = mapOf(at);
    const misses = lines.map((l) => lineOffDeg(map, l));
    const slopes = free.map((name) => {
      const moved = mapOf({ ...at, [name]: at[name] + STEP });
      return lines.map((l, i) => foldedDeg(lineOffDeg(moved, l) - misses[i]) / STEP);
    });
    const n = free.length;
    const dot = (a: readonly number[], b: readonly number[]) => a.reduce((sum, v, i) => sum + v * b[i], 0);
    const normal = slopes.flatMap((a, i) => slopes.map((b, j) => dot(a, b) + (i === j ? HELD : 0)));
    const change = solveSymmetric(
      normal,
      slopes.map((a) => -dot(a, misses)),
    );
    if (!change) return null;
    for (let k = 0; k < n; k++) at[free[k]] += Math.max(-MOST_TILT, Math.min(MOST_TILT, change[k]));
    if (Math.abs(at.pitchDeg) > MOST_TILT || Math.abs(at.yawDeg) > MOST_TILT || Math.abs(at.angleDeg) > MOST_TURN) return null;
    if (change.every((v) => Math.abs(v) < 1e-9)) break;
  }
  return at;
}
