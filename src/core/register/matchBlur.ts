import { encodeSrgb } from "../color/srgbCurve";
import { distort, type Lens } from "../geometry/lens";
import { project, type Matrix3 } from "../geometry/matrix3";
import { linearOfGrey } from "../measure/relativeExposure";
import { quantile } from "../numeric/statistics";
import { CLIPPED_GREY, levelOf, type GreyPyramid } from "./greyPyramid";
import { lookUp, type Photometry } from "./photometry";
import type { GreyLevel } from "./refine";
import { mapFloats } from "../numeric/mapFloats";

/** How much more blurred one frame is than the other. */
export interface BlurMatch {
  /** the sharper frame, which has to be blurred to look like the other */
  sharper: "fixed" | "moving";
  /** Gaussian sigma, px at full size */
  sigmaPx: number;
}

/** Ratio of slopes from which the frames count as differently sharp. */
const CLEAR = 0.65;
/** Share of the places taken for edges. */
const STRONGEST = 0.04;
/** Sigma of an edge as sharp as pixels allow, and the widest blur looked for; px of the level. */
const EDGE_SIGMA = 0.7;
const WIDEST = 4;

/**
 * Compares the slopes of two frames at their strongest edges and finds the blur that makes them alike. Edges of the one and of the
 * other are looked at alike, so that a misfit does not look like blur.
 * @param matrix fixed → undistorted moving, at this level @param level of both pyramids
 * @returns null where they are about equally sharp
 */
export function measureBlur(
  fixed: GreyPyramid,
  moving: GreyPyramid,
  photometry: Photometry,
  matrix: Matrix3,
  lens: Lens | null,
  level: number,
): BlurMatch | null {
  const [f, m] = [levelOf(fixed, level), levelOf(moving, level)];
  const ratioOf = (a: GreyLevel, b: GreyLevel) => slopeRatio(slopes(a, photometry.fixed), slopes(b, photometry.moving), a, b, matrix, lens);
  const ratio = ratioOf(f, m);
  if (!(ratio < CLEAR) && !(ratio > 1 / CLEAR)) return null;
  const sharper = ratio < 1 ? "fixed" : "moving";
  // how much blunter the blurred one still is; 1 where the blur is right
  const left = (sigma: number) => (sharper === "fixed" ? ratioOf(blurLevel(f, sigma), m) : 1 / ratioOf(f, blurLevel(m, sigma)));
  // an edge as sharp as pixels allow has about this sigma; then two steps of the secant
  const clear = sharper === "fixed" ? ratio : 1 / ratio;
  let [before, sigma] = [0, Math.min(WIDEST, EDGE_SIGMA * Math.sqrt(1 / (clear * clear) - 1))];
  let valueBefore = clear;
  for (let k = 0; k < 3; k++) {
    const value = left(sigma);
    const slope = (value - valueBefore) / (sigma - before);
    if (Math.abs(value - 1) < 0.02 || !(slope > 0)) break;
    [before, valueBefore] = [sigma, value];
    sigma = Math.max(0.1, Math.min(WIDEST, sigma + (1 - value) / slope));
    if (sigma === before) break;
  }
  return { sharper, sigmaPx: sigma * 2 ** level };
}

/** Slope per px, NaN beside samples without light. */
function slopes({ width: w, height: h, data }: GreyLevel, table: Float32Array): Float32Array {
  const out = new Float32Array(w * h).fill(NaN);
  for (let y = 1; y < h - 1; y++) {
    for (let x = 1; x < w - 1; x++) {
      const i = y * w + x;
      const [l, r, u, d] = [data[i - 1], data[i + 1], data[i - w], data[i + w]];
      if (Math.max(l, r, u, d) >= CLIPPED_GREY) continue;
      out[i] = Math.hypot(lookUp(table, r) - lookUp(table, l), lookUp(table, d) - lookUp(table, u)) / 2;
    }
  }
  return out;
}

/** Slopes of the moving frame over those of the fixed one: geometric mean over the strongest edges of each. */
function slopeRatio(fixed: Float32Array, moving: Float32Array, f: GreyLevel, m: GreyLevel, matrix: Matrix3, lens: Lens | null): number {
  const own: number[] = [];
  const other: number[] = [];
  const scale = Math.sqrt(Math.abs(matrix[0] * matrix[4] - matrix[1] * matrix[3]));
  for (let y = 2; y < f.height - 2; y += 2) {
    for (let x = 2; x < f.width - 2; x += 2) {
      const [u, v] = distort(lens, m, ...project(matrix, x, y));
      const [ui, vi] = [Math.round(u), Math.round(v)];
      if (!(ui >= 0 && vi >= 0 && ui < m.width && vi < m.height)) continue;
      const [a, b] = [fixed[y * f.width + x], moving[vi * m.width + ui] * scale];
      if (a > 0 && b > 0) {
        own.push(a);
        other.push(b);
      }
    }
  }
  if (own.length < 400) return 1;
  const at = 1 - STRONGEST;
  const [strongOwn, strongOther] = [quantile(own.slice(), at), quantile(other.slice(), at)];
  const inOwn: number[] = [];
  const inOther: number[] = [];
  own.forEach((a, k) => {
    const ratio = Math.log2(other[k] / a);
    if (a >= strongOwn) inOwn.push(ratio);
    if (other[k] >= strongOther) inOther.push(ratio);
  });
  return 2 ** ((quantile(inOwn, 0.5) + quantile(inOther, 0.5)) / 2);
}

/** A pyramid blurred in linear light from a level up; finer levels stay as they are. @param sigmaPx at full size */
export function blurPyramid(pyramid: GreyPyramid, sigmaPx: number, from: number): GreyPyramid {
  const blurred = (level: number) => blurLevel(levelOf(pyramid, level), sigmaPx / 2 ** level);
  const levels = pyramid.levels.map((plane, l) => (l === 0 || l < from ? plane : blurred(l)));
  return { ...pyramid, base: from === 0 ? blurred(0).data : pyramid.base, levels };
}

/** Gaussian blur of light; where a twentieth of the weight lies on samples without light the result has none either. */
export function blurLevel({ width: w, height: h, data }: GreyLevel, sigma: number): GreyLevel {
  if (sigma < 0.2) return { width: w, height: h, data };
  const radius = Math.ceil(3 * sigma);
  const kernel = Float64Array.from({ length: 2 * radius + 1 }, (_, k) => Math.exp(-((k - radius) ** 2) / (2 * sigma * sigma)));
  const sum = kernel.reduce((a, b) => a + b, 0);
  const light = mapFloats(data, (v) => (v >= CLIPPED_GREY ? 0 : linearOfGrey(v)));
  const lit = mapFloats(data, (v) => (v >= CLIPPED_GREY ? 0 : 1));
  const pass = (src: Float32Array, limit: number, step: number, lines: number, lineStep: number): Float32Array => {
    const out = new Float32Array(w * h);
    const line = new Float64Array(limit + 2 * radius);
    for (let l = 0; l < lines; l++) {
      const base = l * lineStep;
      for (let k = 0; k < line.length; k++) line[k] = src[base + Math.max(0, Math.min(limit - 1, k - radius)) * step];
      for (let at = 0; at < limit; at++) {
        let total = 0;
        for (let k = 0; k < kernel.length; k++) total += kernel[k] * line[at + k];
        out[base + at * step] = total / sum;
      }
    }
    return out;
  };
  const both = (src: Float32Array) => pass(pass(src, w, 1, h, w), h, w, w, 1);
  const all = lit.every((v) => v === 1);
  const spread = both(light);
  const coverage = all ? null : both(lit);
  const out = Uint16Array.from(spread, (v, i) => {
    const share = coverage ? coverage[i] : 1;
    return share < 0.95 ? CLIPPED_GREY : Math.min(CLIPPED_GREY - 1, 65535 * encodeSrgb(v / share) + 0.5);
  });
  return { width: w, height: h, data: out };
}
