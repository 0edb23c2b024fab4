import { distort, undistort, type Lens } from "../geometry/lens";
import { invert, multiply, normalize, project, type Matrix3 } from "../geometry/matrix3";
import type { Rectangle } from "../geometry/rectangle";
import { solveSymmetric } from "../numeric/linearSystem";
import { normalEquations } from "../numeric/normalEquations";
import { quantile } from "../numeric/statistics";
import { changeOf, COLUMNS, normalizer, type MotionModel } from "./models";
import { lookUp, USABLE_HIGH, USABLE_LOW, type Photometry } from "./photometry";

export interface GreyLevel {
  width: number;
  height: number;
  data: Uint16Array;
}

export interface Refinement {
  /** fixed → undistorted moving, at this level */
  matrix: Matrix3;
  /** radial distortion of the moving frame; null where the model has none */
  lens: Lens | null;
  /** Inverse covariance of the eight homography parameters in the fixed frame's normalised coordinates (see normalizer). */
  information: Float64Array;
  /** robust standard deviation of the residual, encoded units */
  sigma: number;
  /** share of the points that are usable and within three sigma */
  inliers: number;
  usable: number;
  converged: boolean;
}

const GAIN_SPREAD = 0.5;
const BIAS_SPREAD = 0.25;

interface Points {
  count: number;
  x: Float32Array;
  y: Float32Array;
  value: Float32Array;
  /** eight columns per point: derivative of the fixed picture by the homography parameters */
  jacobian: Float32Array;
}

/** Where points are taken from: what has to line up, and what does not count. Coordinates of the level. */
export interface Selection {
  bounds: Rectangle;
  counts(x: number, y: number): boolean;
}

/** The strongest gradients, balanced over tiles so that one busy corner does not decide. */
function selectPoints(fixed: GreyLevel, table: Float32Array, budget: number, selection?: Selection): Points {
  const { width: w, height: h, data } = fixed;
  const area = selection?.bounds ?? { x: 0, y: 0, width: w, height: h };
  const columns = Math.max(2, Math.min(32, Math.round(area.width / 24)));
  const rows = Math.max(2, Math.min(24, Math.round(area.height / 24)));
  const perTile = Math.ceil(budget / (columns * rows));
  const chosen: number[] = [];
  const histogram = new Int32Array(256);
  for (let ty = 0; ty < rows; ty++) {
    for (let tx = 0; tx < columns; tx++) {
      const x0 = Math.max(2, area.x + Math.floor((tx * area.width) / columns));
      const x1 = Math.min(w - 2, area.x + Math.floor(((tx + 1) * area.width) / columns));
      const y0 = Math.max(2, area.y + Math.floor((ty * area.height) / rows));
      const y1 = Math.min(h - 2, area.y + Math.floor(((ty + 1) * area.height) / rows));
      const strength = (i: number) => {
        const v = data[i];
        if (v < USABLE_LOW || v > USABLE_HIGH) return 0;
        if (selection && !selection.counts(i % w, Math.floor(i / w))) return 0;
        const gx = lookUp(table, data[i + 1]) - lookUp(table, data[i - 1]);
        const gy = lookUp(table, data[i + w]) - lookUp(table, data[i - w]);
        return Math.min(255, Math.floor(Math.sqrt(gx * gx + gy * gy) * 400));
      };
      const stride = (x1 - x0) * (y1 - y0) > perTile * 40 ? 2 : 1;
      histogram.fill(0);
      const along = (from: number, to: number) => Math.max(0, Math.ceil((to - from) / stride));
      const strengths = new Uint8Array(along(x0, x1) * along(y0, y1));
      for (let y = y0, n = 0; y < y1; y += stride) for (let x = x0; x < x1; x += stride) histogram[(strengths[n++] = strength(y * w + x))]++;
      let threshold = 255;
      for (let sum = 0; threshold > 1; threshold--) {
        sum += histogram[threshold];
        if (sum >= perTile) break;
      }
      let left = perTile;
      for (let y = y0, n = 0; y < y1 && left > 0; y += stride) {
        for (let x = x0; x < x1 && left > 0; x += stride, n++) {
          if (strengths[n] >= threshold) {
            chosen.push(y * w + x);
            left--;
          }
        }
      }
    }
  }
  const count = chosen.length;
  const points: Points = {
    count,
    x: new Float32Array(count),
    y: new Float32Array(count),
    value: new Float32Array(count),
    jacobian: new Float32Array(count * 8),
  };
  const n = normalizer(w, h);
  chosen.forEach((i, k) => {
    const x = i % w;
    const y = (i - x) / w;
    points.x[k] = x;
    points.y[k] = y;
    points.value[k] = lookUp(table, data[i]);
    const gx = (lookUp(table, data[i + 1]) - lookUp(table, data[i - 1])) / (2 * n[0]);
    const gy = (lookUp(table, data[i + w]) - lookUp(table, data[i - w])) / (2 * n[0]);
    const u = n[0] * x + n[2];
    const v = n[4] * y + n[5];
    const q = -(gx * u + gy * v);
    points.jacobian.set([gx * u, gx * v, gx, gy * u, gy * v, gy, q * u, q * v], k * 8);
  });
  return points;
}

/** Points of whole levels, by the table of their pair, the level and how many: each start of a pair is followed down the same levels. */
const selected = new WeakMap<Float32Array, WeakMap<Uint16Array, Map<number, Points>>>();

/** Points that are only read: those of a whole level are found once for a pair. */
function pointsOf(fixed: GreyLevel, table: Float32Array, { budget, selection, fixedLens }: RefineOptions): Points {
  if (selection || fixedLens) {
    const points = selectPoints(fixed, table, budget, selection);
    if (fixedLens) straighten(points, fixedLens, fixed);
    return points;
  }
  const levels = selected.get(table) ?? new WeakMap<Uint16Array, Map<number, Points>>();
  selected.set(table, levels);
  const known = levels.get(fixed.data) ?? new Map<number, Points>();
  levels.set(fixed.data, known);
  const points = known.get(budget) ?? selectPoints(fixed, table, budget);
  known.set(budget, points);
  return points;
}

/** Derivative by one parameter, which may move two of the homography's at once. */
function columnOf({ count, jacobian }: Points, [first, factor, second, factor2]: readonly number[]): Float64Array {
  const column = new Float64Array(count);
  for (let k = 0; k < count; k++) column[k] = jacobian[k * 8 + first] * factor;
  if (second !== undefined) for (let k = 0; k < count; k++) column[k] += jacobian[k * 8 + second] * factor2;
  return column;
}

/** Moves the points to where they would lie without the fixed frame's lens; their values and slopes stay. */
function straighten(points: Points, lens: Lens, size: { width: number; height: number }): void {
  for (let k = 0; k < points.count; k++) {
    const [x, y] = undistort(lens, size, points.x[k], points.y[k]);
    points.x[k] = x;
    points.y[k] = y;
  }
}

/** Catmull-Rom sample; the caller keeps (x, y) two pixels inside. */
function sample(data: ArrayLike<number>, w: number, x: number, y: number): number {
  const xi = Math.floor(x);
  const yi = Math.floor(y);
  const t = x - xi;
  const s = y - yi;
  const a0 = ((-0.5 * t + 1) * t - 0.5) * t;
  const a1 = (1.5 * t - 2.5) * t * t + 1;
  const a2 = ((-1.5 * t + 2) * t + 0.5) * t;
  const a3 = (0.5 * t - 0.5) * t * t;
  let p = (yi - 1) * w + xi - 1;
  const r0 = a0 * data[p] + a1 * data[p + 1] + a2 * data[p + 2] + a3 * data[p + 3];
  p += w;
  const r1 = a0 * data[p] + a1 * data[p + 1] + a2 * data[p + 2] + a3 * data[p + 3];
  p += w;
  const r2 = a0 * data[p] + a1 * data[p + 1] + a2 * data[p + 2] + a3 * data[p + 3];
  p += w;
  const r3 = a0 * data[p] + a1 * data[p + 1] + a2 * data[p + 2] + a3 * data[p + 3];
  return ((-0.5 * s + 1) * s - 0.5) * s * r0 + ((1.5 * s - 2.5) * s * s + 1) * r1 + ((-1.5 * s + 2) * s + 0.5) * s * r2 + (0.5 * s - 0.5) * s * s * r3;
}

export interface RefineOptions {
  model: MotionModel;
  budget: number;
  iterations: number;
  /** lens of the moving frame: where "radial" starts, and what other models keep */
  lens?: Lens | null;
  /** lens of the fixed frame, known */
  fixedLens?: Lens | null;
  selection?: Selection;
  /** a start is only looked at: it is left where it has come to rest, or no longer gets better */
  isTrial?: boolean;
}

/** Movement of the corners, px, below which a solution has come to rest; a trial is refined again on the next level. */
const AT_REST_PX = { solution: 0.003, trial: 0.02 };
/** A trial is given up where this many passes have not brought the residual down by a share of it. */
const PATIENCE = { passes: 6, share: 0.01 };

/**
 * Inverse compositional Gauss-Newton over the motion parameters plus gain and bias, Huber weights, clipped samples left out.
 * @param start fixed → moving, at this level
 * @see Baker and Matthews 2004, "Lucas-Kanade 20 years on", section 3.2 and part 2 (robust weights)
 */
export function refine(fixed: GreyLevel, moving: GreyLevel, photometry: Photometry, start: Matrix3, options: RefineOptions): Refinement {
  const points = pointsOf(fixed, photometry.fixed, options);
  const radial = options.model === "radial";
  let lens: Lens | null = options.lens ?? (radial ? { k1: 0, k2: 0 } : null);
  const [mcx, mcy] = [(moving.width - 1) / 2, (moving.height - 1) / 2];
  const perHalf = 4 / (moving.width * moving.width + moving.height * moving.height);
  const toUnit = normalizer(fixed.width, fixed.height);
  const fromUnit = invert(toUnit);
  const columns = COLUMNS[options.model];
  const free = columns.length + (radial ? 1 : 0);
  const size = free + 2;
  let matrix = normalize(start);
  let gain = 1;
  let bias = 0;
  let sigma = 0.02;
  let converged = false;
  const residual = new Float32Array(points.count);
  const state = new Uint8Array(points.count);
  const weight = new Float64Array(points.count);
  const gains = new Float64Array(points.count);
  const bends = radial ? new Float64Array(points.count) : null;
  const given = [...columns.map((column) => columnOf(points, column)), ...(bends ? [bends] : []), gains, new Float64Array(points.count).fill(-1)];
  let usable = 0;
  let inliers = 0;
  let lowest = Infinity;
  let waited = 0;
  const corners = [
    [0, 0],
    [fixed.width - 1, 0],
    [0, fixed.height - 1],
    [fixed.width - 1, fixed.height - 1],
  ] as const;

  const evaluate = () => {
    usable = 0;
    const kept: number[] = [];
    const [a, b, c, d, e, f, g, h, i] = matrix;
    for (let k = 0; k < points.count; k++) {
      const x = points.x[k];
      const y = points.y[k];
      const q = 1 / (g * x + h * y + i);
      let u = (a * x + b * y + c) * q;
      let v = (d * x + e * y + f) * q;
      if (lens) {
        const r2 = ((u - mcx) * (u - mcx) + (v - mcy) * (v - mcy)) * perHalf;
        const stretch = 1 + r2 * (lens.k1 + r2 * lens.k2);
        u = mcx + (u - mcx) * stretch;
        v = mcy + (v - mcy) * stretch;
      }
      state[k] = 0;
      if (!(u >= 2 && v >= 2 && u < moving.width - 3 && v < moving.height - 3)) continue;
      const raw = sample(moving.data, moving.width, u, v);
      if (raw < USABLE_LOW || raw > USABLE_HIGH) continue;
      residual[k] = gain * lookUp(photometry.moving, raw) + bias - points.value[k];
      state[k] = 1;
      usable++;
      if ((k & 3) === 0) kept.push(Math.abs(residual[k]));
    }
    if (kept.length > 8) sigma = Math.max(0.0015, 1.4826 * quantile(kept, 0.5));
  };

  /** Derivative of the fixed picture by k1, on the fixed side: what the lens moves, brought back through the matrix. */
  const lensColumn = (k: number): number => {
    const [a, b, c, d, e, f, g, h, i] = matrix;
    const x = points.x[k];
    const y = points.y[k];
    const q = 1 / (g * x + h * y + i);
    const u = (a * x + b * y + c) * q;
    const v = (d * x + e * y + f) * q;
    const r2 = ((u - mcx) * (u - mcx) + (v - mcy) * (v - mcy)) * perHalf;
    const [mx, my] = [(u - mcx) * r2, (v - mcy) * r2];
    const [xx, xy, yx, yy] = [(a - g * u) * q, (b - h * u) * q, (d - g * v) * q, (e - h * v) * q];
    const det = xx * yy - xy * yx;
    const n = toUnit[0];
    return (points.jacobian[k * 8 + 2] * n * (yy * mx - xy * my) + points.jacobian[k * 8 + 5] * n * (xx * my - yx * mx)) / det;
  };

  const information = new Float64Array(64);
  evaluate();
  for (let pass = 0; pass < options.iterations && usable > size * 4; pass++) {
    const limit = 1.345 * sigma;
    for (let k = 0; k < points.count; k++) {
      const magnitude = Math.abs(residual[k]);
      weight[k] = !state[k] || magnitude > 6 * sigma ? 0 : magnitude <= limit ? 1 : limit / magnitude;
      gains[k] = -(residual[k] + points.value[k]);
    }
    if (bends) for (let k = 0; k < points.count; k++) bends[k] = weight[k] && lensColumn(k);
    const { normal, right } = normalEquations(given, weight, residual);
    for (let m = 0; m < size; m++) normal[m * size + m] *= 1 + 1e-6;
    // gain and bias are known to be near 1 and 0; without this a nearly flat picture would trade them against each other
    const [g, b] = [size - 2, size - 1];
    normal[g * size + g] += (usable * sigma * sigma) / (GAIN_SPREAD * GAIN_SPREAD);
    right[g] -= ((gain - 1) * usable * sigma * sigma) / (GAIN_SPREAD * GAIN_SPREAD);
    normal[b * size + b] += (usable * sigma * sigma) / (BIAS_SPREAD * BIAS_SPREAD);
    right[b] -= (bias * usable * sigma * sigma) / (BIAS_SPREAD * BIAS_SPREAD);
    const step = solveSymmetric(normal, right);
    if (!step) break;
    const p = new Float64Array(8);
    columns.forEach((column, m) => {
      for (let q = 0; q < column.length; q += 2) p[column[q]] += column[q + 1] * step[m];
    });
    const before = corners.map(([x, y]) => distort(lens, moving, ...project(matrix, x, y)));
    matrix = normalize(multiply(matrix, multiply(fromUnit, multiply(invert(changeOf(p)), toUnit))));
    if (radial) lens = { k1: Math.max(-0.6, Math.min(0.6, lens!.k1 - step[free - 1])), k2: lens!.k2 };
    gain *= 1 + step[size - 2];
    bias += step[size - 1];
    if (!(gain > 0.3 && gain < 3)) gain = 1;
    evaluate();
    const move = Math.max(
      ...corners.map(([x, y], k) => {
        const [u, v] = distort(lens, moving, ...project(matrix, x, y));
        return Math.hypot(u - before[k][0], v - before[k][1]);
      }),
    );
    if (!Number.isFinite(move)) break;
    if (move < (options.isTrial ? AT_REST_PX.trial : AT_REST_PX.solution)) {
      converged = true;
      break;
    }
    waited = sigma < lowest * (1 - PATIENCE.share) ? 0 : waited + 1;
    lowest = Math.min(lowest, sigma);
    if (options.isTrial && waited >= PATIENCE.passes) break;
  }
  for (let k = 0; k < points.count; k++) {
    if (!state[k] || Math.abs(residual[k]) > 3 * sigma) continue;
    inliers++;
    const j = k * 8;
    for (let m = 0; m < 8; m++) for (let q = 0; q < 8; q++) information[m * 8 + q] += points.jacobian[j + m] * points.jacobian[j + q];
  }
  const scale = 1 / (sigma * sigma);
  return { matrix, lens, information: information.map((v) => v * scale), sigma, inliers: points.count ? inliers / Math.max(1, usable) : 0, usable, converged };
}
