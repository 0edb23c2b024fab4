import { multiply, type Matrix3 } from "../geometry/matrix3";
import { solveSymmetric } from "../numeric/linearSystem";
import { median } from "../numeric/statistics";
import { between, orthonormal, rotationAbout, type Camera } from "./camera";

/** The same thing seen in two frames, px as shot. */
export interface Tie {
  a: number;
  b: number;
  x: number;
  y: number;
  u: number;
  v: number;
  /** 1 for a measured one; more for one set by hand */
  weight: number;
}

/** What all frames of one lens share and what may be found out of it. */
export type LensFreedom = "none" | "focal" | "k1" | "k2" | "shift";

const SHARED: Record<LensFreedom, (keyof Camera)[]> = {
  none: [],
  focal: ["focalPx"],
  k1: ["focalPx", "k1"],
  k2: ["focalPx", "k1", "k2"],
  shift: ["focalPx", "k1", "k2", "shiftX", "shiftY"],
};

/** Standard deviations assumed of what is not known: relative for the focal length, px for the shift. Common practice, no source. */
const PRIOR: Partial<Record<keyof Camera, number>> = { k1: 0.3, k2: 0.3, shiftX: 20, shiftY: 20 };
const STEPS: Partial<Record<keyof Camera, number>> = { k1: 1e-5, k2: 1e-5, shiftX: 1e-3, shiftY: 1e-3 };

export interface AdjustOptions {
  freedom: LensFreedom;
  /** a focal length told from outside and how far it can be off, as a share; null where nothing is known */
  toldFocal: { px: number; share: number } | null;
}

export interface Adjusted {
  cameras: Camera[];
  /** distance left of each tie, px of its frame b; Infinity where b cannot see it */
  residuals: Float64Array;
  /** robust standard deviation of a coordinate, px */
  sigmaPx: number;
  /** sum of the robust costs at a standard deviation of `costSigma` */
  costAt: (sigma: number) => number;
  /** standard deviation of each frame's direction against the fixed frame, degrees, the worst axis */
  directionSdDeg: number[];
  /** of the focal length, share; 0 where it is fixed */
  focalSd: number;
}

/** Cauchy's width in standard deviations: what moved or is near counts little. */
const WIDTH = 2.4;

/**
 * Rotations of all frames and what their lens has in common, so that ties meet: robust least squares on px by Levenberg and Marquardt.
 * @param cameras first guess; frame `fixed` keeps its direction @param placed frames that take part
 * @see Triggs et al. 1999, "Bundle adjustment: a modern synthesis"
 */
export function adjustCameras(cameras: Camera[], ties: Tie[], fixed: number, placed: boolean[], options: AdjustOptions): Adjusted {
  const shared = SHARED[options.freedom];
  const slots = new Map<number, number>();
  cameras.forEach((_, i) => {
    if (placed[i] && i !== fixed) slots.set(i, slots.size);
  });
  const turns = slots.size * 3;
  const n = turns + shared.length;
  let current = cameras.map((c) => ({ ...c }));
  let errors = errorsOf(current, ties);
  let sigma = sigmaOf(errors);
  let damping = 1e-4;
  for (let pass = 0; pass < 40 && n > 0; pass++) {
    const { normal, right } = linearise(current, ties, errors, sigma, slots, shared, options);
    let improved = false;
    let change = 0;
    for (let attempt = 0; attempt < 6; attempt++) {
      const damped = normal.slice();
      for (let i = 0; i < n; i++) damped[i * n + i] *= 1 + damping;
      const step = solveSymmetric(damped, right);
      if (step) {
        const next = stepped(current, step, slots, shared);
        const tried = errorsOf(next, ties);
        const before = costOf(errors, ties, sigma) + priorCost(current[fixed], shared, options);
        const after = costOf(tried, ties, sigma) + priorCost(next[fixed], shared, options);
        if (after <= before) {
          improved = after < before * (1 - 1e-9);
          current = next;
          errors = tried;
          damping = Math.max(1e-9, damping / 8);
          change = step.reduce((most, v) => Math.max(most, Math.abs(v)), 0);
          break;
        }
      }
      damping *= 10;
    }
    const tighter = sigmaOf(errors);
    const settled = Math.abs(tighter - sigma) < 1e-3 * sigma;
    sigma = tighter;
    if ((!improved || change < 1e-9) && settled) break;
  }
  const spread = n > 0 ? diagonalOfInverse(linearise(current, ties, errors, sigma, slots, shared, options).normal, n) : null;
  const deviation = (i: number) => (spread ? Math.sqrt(Math.max(0, spread[i])) : Infinity);
  return {
    cameras: current,
    residuals: Float64Array.from(ties, (_, k) => Math.hypot(errors[2 * k], errors[2 * k + 1])),
    sigmaPx: sigma,
    costAt: (at) => costOf(errors, ties, at),
    directionSdDeg: cameras.map((_, i) => {
      const s = slots.get(i);
      return s === undefined ? 0 : (Math.max(deviation(3 * s), deviation(3 * s + 1), deviation(3 * s + 2)) * 180) / Math.PI;
    }),
    focalSd: shared.length && n > 0 ? deviation(turns) : 0,
  };
}

/** dx, dy of each tie; NaN where b cannot see it. */
function errorsOf(cameras: Camera[], ties: Tie[]): Float64Array {
  const out = new Float64Array(ties.length * 2);
  ties.forEach(({ a, b, x, y, u, v }, k) => {
    const p = between(cameras[a], cameras[b], x, y);
    out[2 * k] = p ? p[0] - u : NaN;
    out[2 * k + 1] = p ? p[1] - v : NaN;
  });
  return out;
}

function sigmaOf(errors: Float64Array): number {
  const sizes = errors.filter((v) => !Number.isNaN(v)).map(Math.abs);
  return sizes.length ? Math.max(0.01, 1.4826 * median(sizes)) : 1;
}

/** A tie that b cannot see costs as much as one that is far off. */
const LOST = 1e4;

function costOf(errors: Float64Array, ties: Tie[], sigma: number): number {
  const c = WIDTH * sigma;
  let sum = 0;
  for (let k = 0; k < ties.length; k++) {
    const e2 = Number.isNaN(errors[2 * k]) ? LOST : (errors[2 * k] ** 2 + errors[2 * k + 1] ** 2) / (c * c);
    sum += ties[k].weight * WIDTH * WIDTH * Math.log1p(e2);
  }
  return sum;
}

function priorsOf(camera: Camera, shared: (keyof Camera)[], { toldFocal }: AdjustOptions): { off: number; information: number }[] {
  return shared.map((name) => {
    if (name === "focalPx") {
      return toldFocal ? { off: Math.log(camera.focalPx / toldFocal.px), information: 1 / toldFocal.share ** 2 } : { off: 0, information: 0 };
    }
    return { off: camera[name] as number, information: 1 / PRIOR[name]! ** 2 };
  });
}

function priorCost(camera: Camera, shared: (keyof Camera)[], options: AdjustOptions): number {
  return priorsOf(camera, shared, options).reduce((sum, p) => sum + p.information * p.off * p.off, 0);
}

function linearise(
  cameras: Camera[],
  ties: Tie[],
  errors: Float64Array,
  sigma: number,
  slots: Map<number, number>,
  shared: (keyof Camera)[],
  options: AdjustOptions,
): { normal: Float64Array; right: Float64Array } {
  const turns = slots.size * 3;
  const n = turns + shared.length;
  const normal = new Float64Array(n * n);
  const right = new Float64Array(n);
  const nudged = new Map<string, Camera>();
  const ANGLE = 1e-6;
  cameras.forEach((c, i) => {
    if (slots.has(i))
      for (let axis = 0; axis < 3; axis++) nudged.set(`${i}-${axis}`, turned(c, axis === 0 ? ANGLE : 0, axis === 1 ? ANGLE : 0, axis === 2 ? ANGLE : 0));
    shared.forEach((name, s) => nudged.set(`${i}-s${s}`, changed(c, name, stepOf(name))));
  });
  const c2 = (WIDTH * sigma) ** 2;
  const index = new Int32Array(6 + shared.length);
  const dx = new Float64Array(index.length);
  const dy = new Float64Array(index.length);
  ties.forEach(({ a, b, x, y, u, v, weight }, k) => {
    const [ex, ey] = [errors[2 * k], errors[2 * k + 1]];
    if (Number.isNaN(ex)) return;
    let m = 0;
    const take = (slot: number, p: [number, number] | null, step: number) => {
      if (!p) return;
      index[m] = slot;
      dx[m] = (p[0] - u - ex) / step;
      dy[m++] = (p[1] - v - ey) / step;
    };
    for (let side = 0; side < 2; side++) {
      const slot = slots.get(side ? b : a);
      if (slot === undefined) continue;
      for (let axis = 0; axis < 3; axis++) {
        const moved = nudged.get(`${side ? b : a}-${axis}`)!;
        take(3 * slot + axis, side ? between(cameras[a], moved, x, y) : between(moved, cameras[b], x, y), ANGLE);
      }
    }
    shared.forEach((name, s) => take(turns + s, between(nudged.get(`${a}-s${s}`)!, nudged.get(`${b}-s${s}`)!, x, y), stepOf(name)));
    const w = weight / (sigma * sigma * (1 + (ex * ex + ey * ey) / c2));
    for (let i = 0; i < m; i++) {
      right[index[i]] -= w * (dx[i] * ex + dy[i] * ey);
      for (let j = 0; j < m; j++) normal[index[i] * n + index[j]] += w * (dx[i] * dx[j] + dy[i] * dy[j]);
    }
  });
  const some = cameras.find((_, i) => !slots.has(i)) ?? cameras[0];
  priorsOf(some, shared, options).forEach(({ off, information }, s) => {
    const at = turns + s;
    normal[at * n + at] += information;
    right[at] -= information * off;
  });
  for (let i = 0; i < n; i++) normal[i * n + i] += 1e-9;
  return { normal, right };
}

/** The focal length changes by a share, all else by itself. */
const stepOf = (name: keyof Camera) => (name === "focalPx" ? 1e-6 : STEPS[name]!);

function changed(c: Camera, name: keyof Camera, by: number): Camera {
  return name === "focalPx" ? { ...c, focalPx: c.focalPx * Math.exp(by) } : { ...c, [name]: (c[name] as number) + by };
}

function turned(c: Camera, x: number, y: number, z: number): Camera {
  return { ...c, rotation: multiply(rotationAbout(x, y, z), c.rotation) as Matrix3 };
}

function stepped(cameras: Camera[], step: Float64Array, slots: Map<number, number>, shared: (keyof Camera)[]): Camera[] {
  const turns = slots.size * 3;
  return cameras.map((c, i) => {
    const s = slots.get(i);
    const next = s === undefined ? c : turned(c, step[3 * s], step[3 * s + 1], step[3 * s + 2]);
    const lens = shared.reduce((at, name, k) => changed(at, name, step[turns + k]), next);
    return { ...lens, rotation: orthonormal(lens.rotation) };
  });
}

/** Diagonal of the inverse of a symmetric positive definite matrix, or null where it has none. */
function diagonalOfInverse(normal: Float64Array, n: number): Float64Array | null {
  const out = new Float64Array(n);
  for (let i = 0; i < n; i++) {
    const e = new Float64Array(n);
    e[i] = 1;
    const x = solveSymmetric(normal, e);
    if (!x) return null;
    out[i] = x[i];
  }
  return out;
}
