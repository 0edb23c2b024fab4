import { multiply, transform } from "../geometry/matrix3";
import { solveSymmetric } from "../numeric/linearSystem";
import { attitudeOf, cross, dot, rotationAbout, rotationOf, transpose, unit, type Attitude, type Camera, type Vector3 } from "./camera";
import { outlines } from "./layout";

const RAD = Math.PI / 180;
/** How much the frames' own uprights count beside the plane that their horizontals lie in, which a single column does not have. */
const UPRIGHTS = 0.02;

/**
 * The direction of the middle of the picture, with the horizon level: down is where the frames' horizontal axes do not point.
 * @see Brown and Lowe 2007, section 5 (straightening)
 */
export function straighten(cameras: Camera[]): Attitude {
  const n = cameras.length;
  const normal = new Float64Array(9);
  const right = new Float64Array(3);
  // a frame on its side has its horizontal where others have their upright
  const about = commonUpright(cameras);
  for (const camera of cameras) {
    const axes = [columnOf(camera, 0), columnOf(camera, 1)];
    const onSide = Math.abs(dot(axes[0], about)) > Math.abs(dot(axes[1], about));
    const [x, upright] = onSide ? [axes[1], axes[0]] : axes;
    const sign = dot(upright, about) < 0 ? -1 : 1;
    for (let i = 0; i < 3; i++) {
      right[i] += UPRIGHTS * sign * upright[i];
      for (let j = 0; j < 3; j++) normal[i * 3 + j] += x[i] * x[j];
    }
  }
  for (let i = 0; i < 3; i++) normal[i * 4] += UPRIGHTS * n;
  const down = unit([...solveSymmetric(normal, right)!] as Vector3);
  const ahead = meanAhead(cameras, down);
  const across = cross(down, ahead);
  const level = [across[0], down[0], ahead[0], across[1], down[1], ahead[1], across[2], down[2], ahead[2]];
  // then turned so that both sides are as far away
  const back = transpose(level);
  const sides = outlines(cameras, 12).map((ray) => {
    const [x, , z] = transform(back, ray);
    return Math.atan2(x, z);
  });
  const [from, to] = [Math.min(...sides), Math.max(...sides)];
  const middle = to - from > 330 * RAD ? 0 : (from + to) / 2;
  const turned: Vector3 = [0, 1, 2].map((i) => across[i] * Math.sin(middle) + ahead[i] * Math.cos(middle)) as Vector3;
  const side = cross(down, turned);
  return attitudeOf([side[0], down[0], turned[0], side[1], down[1], turned[1], side[2], down[2], turned[2]]);
}

/** The upright of the frame that most others agree with, up to quarter turns of theirs. */
function commonUpright(cameras: Camera[]): Vector3 {
  const agreement = (up: Vector3) =>
    cameras.reduce((sum, c) => sum + Math.max(...[0, 1].map((k) => Math.abs(dot(columnOf(c, k), up)) - (k === 0 ? 0.1 : 0))), 0);
  return cameras.map((c) => columnOf(c, 1)).reduce((best, up) => (agreement(up) > agreement(best) ? up : best));
}

const columnOf = ({ rotation: m }: Camera, k: number): Vector3 => [m[k], m[3 + k], m[6 + k]];

/** The mean direction, at right angles to down; that of the first camera where they cancel out. */
function meanAhead(cameras: Camera[], down: Vector3): Vector3 {
  const level = (v: Vector3): Vector3 => {
    const along = v[0] * down[0] + v[1] * down[1] + v[2] * down[2];
    return [v[0] - along * down[0], v[1] - along * down[1], v[2] - along * down[2]];
  };
  const sum = cameras.reduce<Vector3>((at, { rotation: m }) => [at[0] + m[2], at[1] + m[5], at[2] + m[8]], [0, 0, 0]);
  const flat = level(sum);
  if (Math.hypot(...flat) > 0.15 * cameras.length) return unit(flat);
  const { rotation: m } = cameras[0];
  return unit(level([m[2], m[5], m[8]]));
}

/** Two directions along something level, the horizon say, or along one upright line. */
export interface LevelLine {
  kind: "level" | "upright";
  a: Vector3;
  b: Vector3;
}

/** Two places nearer than this do not tell what is level, degrees. Common practice, no source. */
const NEAREST_DEG = 1;

/** Whether the ends of a line are far enough from each other to tell what is level. */
export const tellsLevel = ({ a, b }: LevelLine): boolean => Math.hypot(...cross(unit(a), unit(b))) >= Math.sin(NEAREST_DEG * RAD);

const downOf = (attitude: Attitude): Vector3 => {
  const turn = rotationOf(attitude);
  return [turn[1], turn[4], turn[7]];
};

/** By how much a line is off what it was said to be, degrees. */
export function offLevel(attitude: Attitude, { kind, a, b }: LevelLine): number {
  const normal = unit(cross(unit(a), unit(b)));
  const sine = Math.min(1, Math.abs(dot(normal, downOf(attitude))));
  return (kind === "level" ? Math.acos(sine) : Math.asin(sine)) / RAD;
}

const ROUNDS = 12;
/** Holds down where no line says anything of it. */
const KEPT = 1e-9;

/**
 * The direction of the middle after lines were said to be level or upright: the smallest turn that makes them so, in the least-squares sense where
 * they contradict each other; a longer line counts for more. @returns null where no line tells anything
 */
export function levelByLines(attitude: Attitude, lines: LevelLine[]): Attitude | null {
  const telling = lines.filter(tellsLevel);
  if (telling.length === 0) return null;
  // both ends of a level line, and the plane of an upright one with the eye, are at right angles to what they measure
  const square = telling.flatMap(({ kind, a, b }) => (kind === "level" ? [unit(a), unit(b)] : [cross(unit(a), unit(b))]));
  const before = downOf(attitude);
  let down = before;
  for (let round = 0; round < ROUNDS; round++) {
    const p = unit(cross(down, Math.abs(down[0]) < 0.7 ? [1, 0, 0] : [0, 0, 1]));
    const q = cross(down, p);
    let [pp, pq, qq, pr, qr] = [KEPT, 0, KEPT, 0, 0];
    for (const s of square) {
      const [sp, sq, r] = [dot(s, p), dot(s, q), dot(s, down)];
      [pp, pq, qq, pr, qr] = [pp + sp * sp, pq + sp * sq, qq + sq * sq, pr + sp * r, qr + sq * r];
    }
    const det = pp * qq - pq * pq;
    const [u, v] = [-(qq * pr - pq * qr) / det, -(pp * qr - pq * pr) / det];
    down = unit([0, 1, 2].map((i) => down[i] + u * p[i] + v * q[i]) as Vector3);
  }
  const axis = cross(before, down);
  const sine = Math.hypot(...axis);
  if (sine < 1e-12) return attitude;
  const angle = Math.atan2(sine, dot(before, down)) / sine;
  return attitudeOf(multiply(rotationAbout(axis[0] * angle, axis[1] * angle, axis[2] * angle), rotationOf(attitude)));
}
