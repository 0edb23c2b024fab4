import { invert, multiply, normalize, project, type Matrix3 } from "../geometry/matrix3";
import { distort, undistort, type Lens, type Size } from "../geometry/lens";
import { solveSymmetric } from "../numeric/linearSystem";

/**
 * How a frame may differ from the reference: shifted; scaled about its centre (the framing change of focusing); shifted, turned
 * and scaled; any parallelogram; any flat perspective; that and a lens whose radial distortion differs.
 */
export const MODELS = ["translation", "breathing", "similarity", "affine", "homography", "radial"] as const;
export type MotionModel = (typeof MODELS)[number];
/** "auto" takes the simplest model that explains as much as the richest. */
export type ModelChoice = MotionModel | "auto";

/** Number of free parameters. */
export const FREEDOM: Record<MotionModel, number> = { translation: 2, breathing: 1, similarity: 4, affine: 6, homography: 8, radial: 9 };

const SINGLE = (n: number) => Array.from({ length: n }, (_, i) => [i, 1]);
/** Each free parameter as pairs (homography parameter, factor); the ninth of "radial" is the lens and not among them. */
export const COLUMNS: Record<MotionModel, number[][]> = {
  translation: [
    [2, 1],
    [5, 1],
  ],
  breathing: [[0, 1, 4, 1]],
  similarity: [
    [0, 1, 4, 1],
    [1, 1, 3, -1],
    [2, 1],
    [5, 1],
  ],
  affine: SINGLE(6),
  homography: SINGLE(8),
  radial: SINGLE(8),
};

/** Pixels → coordinates about the centre in units of the half-diagonal, for a well-conditioned system. */
export function normalizer(width: number, height: number): Matrix3 {
  const s = 2 / Math.hypot(width, height);
  return [s, 0, (-s * (width - 1)) / 2, 0, s, (-s * (height - 1)) / 2, 0, 0, 1];
}

/** A matrix from eight parameters of change: identity plus them. */
export function changeOf(p: ArrayLike<number>): Matrix3 {
  return [1 + p[0], p[1], p[2], p[3], 1 + p[4], p[5], p[6], p[7], 1];
}

/** A place of the fixed frame and where the moving frame shows the same thing; px at full size. */
export interface Correspondence {
  x: number;
  y: number;
  u: number;
  v: number;
  weight?: number;
}

export interface ModelFit {
  model: MotionModel;
  /** fixed → undistorted moving */
  matrix: Matrix3;
  lens: Lens | null;
  /** weighted root mean square of the distance, moving px */
  rmsPx: number;
}

/**
 * Least squares fit of a model to correspondences by Gauss-Newton on px distances, from a start.
 * @returns null where the correspondences do not determine the model
 */
export function fitModel(model: MotionModel, points: Correspondence[], fixed: Size, moving: Size, start: Matrix3, lens: Lens | null = null): ModelFit | null {
  const unit = normalizer(fixed.width, fixed.height);
  const back = invert(unit);
  const columns = COLUMNS[model];
  const size = columns.length + (model === "radial" ? 1 : 0);
  if (points.length * 2 < size) return null;
  let matrix = startOf(model, points, fixed, moving, start, lens);
  let k: Lens | null = model === "radial" ? (lens ?? { k1: 0, k2: 0 }) : lens;
  const distance = (m: Matrix3, l: Lens | null) => {
    let sum = 0;
    let weights = 0;
    for (const p of points) {
      const [u, v] = distort(l, moving, ...project(m, p.x, p.y));
      const w = p.weight ?? 1;
      sum += w * ((u - p.u) ** 2 + (v - p.v) ** 2);
      weights += w;
    }
    return Math.sqrt(sum / weights);
  };
  const right = new Float64Array(size);
  for (let pass = 0; pass < 12; pass++) {
    const normal = new Float64Array(size * size);
    right.fill(0);
    const derive = derivativesOf(model, matrix, k, fixed, moving);
    for (const point of points) {
      const { u, v, du, dv } = derive(point.x, point.y);
      const w = point.weight ?? 1;
      for (let i = 0; i < size; i++) {
        right[i] += w * (du[i] * (point.u - u) + dv[i] * (point.v - v));
        for (let j = 0; j < size; j++) normal[i * size + j] += w * (du[i] * du[j] + dv[i] * dv[j]);
      }
    }
    damp(normal, size);
    const solved = solveSymmetric(normal, right);
    if (!solved || !solved.every(Number.isFinite)) return null;
    const p = new Float64Array(8);
    columns.forEach((column, i) => {
      for (let q = 0; q < column.length; q += 2) p[column[q]] += column[q + 1] * solved[i];
    });
    matrix = normalize(multiply(matrix, multiply(back, multiply(changeOf(p), unit))));
    if (model === "radial") k = { k1: k!.k1 + solved[size - 1], k2: k!.k2 };
    if (solved.every((s) => Math.abs(s) < 1e-10)) break;
  }
  if (!matrix.every(Number.isFinite)) return null;
  return { model, matrix, lens: k, rmsPx: distance(matrix, k) };
}

interface Derivatives {
  u: number;
  v: number;
  /** by each free parameter; the arrays are used again for the next place */
  du: Float64Array;
  dv: Float64Array;
}

/** Where a place of the fixed frame lands, and how that changes with the model's free parameters. */
function derivativesOf(model: MotionModel, matrix: Matrix3, lens: Lens | null, fixed: Size, moving: Size): (x: number, y: number) => Derivatives {
  const unit = normalizer(fixed.width, fixed.height);
  const back = invert(unit);
  const columns = COLUMNS[model];
  const size = columns.length + (model === "radial" ? 1 : 0);
  const [du, dv] = [new Float64Array(size), new Float64Array(size)];
  const step = 1e-6;
  const nudged = columns.map((column) => {
    const p = new Float64Array(8);
    for (let q = 0; q < column.length; q += 2) p[column[q]] += column[q + 1] * step;
    return multiply(matrix, multiply(back, multiply(changeOf(p), unit)));
  });
  return (x, y) => {
    const [u, v] = distort(lens, moving, ...project(matrix, x, y));
    const set = (i: number, [un, vn]: readonly [number, number]) => {
      du[i] = (un - u) / step;
      dv[i] = (vn - v) / step;
    };
    nudged.forEach((m, i) => set(i, distort(lens, moving, ...project(m, x, y))));
    if (model === "radial") set(size - 1, distort({ k1: lens!.k1 + step, k2: lens!.k2 }, moving, ...project(matrix, x, y)));
    return { u, v, du, dv };
  };
}

function damp(normal: Float64Array, size: number): void {
  for (let i = 0; i < size; i++) normal[i * size + i] = normal[i * size + i] * (1 + 1e-10) + 1e-12;
}

/** Columns and rows of the grid on which the error elsewhere is looked at. */
const GRID = 6;

/**
 * How far off a fit is to be expected at the worst part of the frames' common area, px (one standard deviation): places that lie
 * together in a corner say little about the rest. Propagation of the covariance of the fit.
 * @param points places that agree @param sigmaPx their error @returns Infinity where they do not determine the model
 */
export function errorElsewhere(
  { model, matrix, lens }: Pick<ModelFit, "model" | "matrix" | "lens">,
  points: { x: number; y: number }[],
  fixed: Size,
  moving: Size,
  sigmaPx: number,
): number {
  const derive = derivativesOf(model, matrix, model === "radial" ? (lens ?? { k1: 0, k2: 0 }) : lens, fixed, moving);
  const size = COLUMNS[model].length + (model === "radial" ? 1 : 0);
  const normal = new Float64Array(size * size);
  for (const { x, y } of points) {
    const { du, dv } = derive(x, y);
    for (let i = 0; i < size; i++) for (let j = 0; j < size; j++) normal[i * size + j] += du[i] * du[j] + dv[i] * dv[j];
  }
  damp(normal, size);
  let worst = 0;
  for (let row = 0; row <= GRID; row++) {
    for (let column = 0; column <= GRID; column++) {
      const { u, v, du, dv } = derive((column * (fixed.width - 1)) / GRID, (row * (fixed.height - 1)) / GRID);
      if (u < 0 || v < 0 || u > moving.width - 1 || v > moving.height - 1) continue;
      let variance = 0;
      for (const slope of [du, dv]) {
        const weights = solveSymmetric(normal, slope);
        if (!weights) return Infinity;
        variance += weights.reduce((sum, w, i) => sum + w * slope[i], 0);
      }
      worst = Math.max(worst, variance);
    }
  }
  return sigmaPx * Math.sqrt(worst);
}

/** A member of the model to begin with: changes are composed, so what the start has and the model cannot express would stay. */
function startOf(model: MotionModel, points: Correspondence[], fixed: Size, moving: Size, start: Matrix3, lens: Lens | null): Matrix3 {
  if (model === "translation" || model === "breathing") return simplest(moving, fixed);
  if (model === "similarity" || model === "affine") return closestSimilarity(points, moving, lens);
  return normalize(start);
}

/** Shift, turn and scale of least squares, in closed form. */
function closestSimilarity(points: Correspondence[], moving: Size, lens: Lens | null): Matrix3 {
  const pairs = points.map((p) => [p.x, p.y, ...undistort(lens, moving, p.u, p.v), p.weight ?? 1]);
  const total = pairs.reduce((sum, p) => sum + p[4], 0);
  const [mx, my, mu, mv] = [0, 1, 2, 3].map((k) => pairs.reduce((sum, p) => sum + p[4] * p[k], 0) / total);
  let [cosine, sine, spread] = [0, 0, 0];
  for (const [x, y, u, v, w] of pairs) {
    cosine += w * ((x - mx) * (u - mu) + (y - my) * (v - mv));
    sine += w * ((x - mx) * (v - mv) - (y - my) * (u - mu));
    spread += w * ((x - mx) ** 2 + (y - my) ** 2);
  }
  const [c, s] = spread > 0 ? [cosine / spread, sine / spread] : [1, 0];
  return [c, -s, mu - c * mx + s * my, s, c, mv - s * mx - c * my, 0, 0, 1];
}

/** Centre upon centre, scaled with the frames' sizes. */
function simplest(moving: Size, fixed: Size): Matrix3 {
  const s = moving.width === fixed.width ? 1 : moving.width / fixed.width;
  return [s, 0, (moving.width - 1) / 2 - (s * (fixed.width - 1)) / 2, 0, s, (moving.height - 1) / 2 - (s * (fixed.height - 1)) / 2, 0, 0, 1];
}

/** The richest model that so many control points determine. */
const modelOfPoints = (count: number): MotionModel => (count >= 6 ? "homography" : count >= 4 ? "affine" : count >= 2 ? "similarity" : "translation");

/** The map that control points (x, y in the fixed frame, u, v in the moving one as shot) lead to. */
export function fitPoints(points: number[][], fixed: Size, moving: Size, lens: Lens | null): ModelFit | null {
  const correspondences = points.map(([x, y, u, v]) => ({ x, y, u, v }));
  const model = modelOfPoints(points.length);
  if (points.length === 0) return null;
  if (model !== "translation") return fitModel(model, correspondences, fixed, moving, [1, 0, 0, 0, 1, 0, 0, 0, 1], lens);
  // one point says nothing about size: the frame keeps its own
  const { x, y, u, v } = correspondences[0];
  const [pu, pv] = undistort(lens, moving, u, v);
  return { model, matrix: [1, 0, pu - x, 0, 1, pv - y, 0, 0, 1], lens, rmsPx: 0 };
}

/** What a better fit must gain before a richer model is proposed: 8 % of what is left and 0.02 px. Common practice, no source. */
const WORTHWHILE = { share: 0.08, px: 0.02 };

/** Fits every model and names the simplest that explains as much as the richest. */
export function compareModels(
  points: Correspondence[],
  fixed: Size,
  moving: Size,
  start: Matrix3,
  lens: Lens | null,
): { fits: ModelFit[]; proposed: MotionModel } | null {
  const fits: ModelFit[] = [];
  for (const model of MODELS) {
    const fit = fitModel(model, points, fixed, moving, start, model === "radial" ? lens : null);
    if (fit && points.length >= FREEDOM[model] * 3) fits.push(fit);
  }
  if (fits.length === 0) return null;
  const least = Math.min(...fits.map((f) => f.rmsPx));
  const good = (f: ModelFit) => f.rmsPx <= least * (1 + WORTHWHILE.share) || f.rmsPx <= least + WORTHWHILE.px;
  return { fits, proposed: fits.filter(good).sort((a, b) => FREEDOM[a.model] - FREEDOM[b.model])[0].model };
}
