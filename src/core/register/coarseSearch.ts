import { boxMean } from "../raster/boxMean";
import { Fft2, transformLength } from "../numeric/fft2";
import type { Matrix3 } from "../geometry/matrix3";
import { linearOfGrey } from "../measure/relativeExposure";
import type { Plane } from "../raster/raster";
import type { Finder } from "./localShifts";

export interface Candidate {
  /** fixed → moving, at the level searched */
  matrix: Matrix3;
  score: number;
}

/** Shifts that leave a smaller share of the frame in common are not looked at. */
const LEAST_OVERLAP = 0.3;

/** Local z-score of log luminance: the same for any exposure; clipped or empty areas become flat. */
export function localZScore(level: { width: number; height: number; data: ArrayLike<number> }): Plane {
  return zScoreOfLight({ width: level.width, height: level.height, data: Float32Array.from(level.data, linearOfGrey) });
}

/** The same from linear light. */
export function zScoreOfLight({ width, height, data: light }: Plane): Plane {
  const log = light.map((v) => Math.log2(v + 0.0008));
  const radius = Math.max(3, Math.round(Math.max(width, height) / 20));
  const mean = boxMean({ width, height, data: log }, radius);
  const square = boxMean({ width, height, data: log.map((v) => v * v) }, radius);
  const data = log.map((v, i) => {
    const sigma = Math.sqrt(Math.max(0, square[i] - mean[i] * mean[i]));
    return Math.max(-3, Math.min(3, (v - mean[i]) / (sigma + 0.08)));
  });
  return { width, height, data };
}

/**
 * Correlates two local z-score pictures over all shifts for each rotation and scale asked for.
 * @returns the best candidates, highest score first; score 1 would be identical pictures
 */
export function searchCoarse(fixed: Plane, moving: Plane, rotationsDeg: number[], scales: number[], keep = 4): Candidate[] {
  // so wide that shifts which leave enough in common do not meet the other side
  const room = (side: number) => transformLength(Math.max(64, side * (2 - LEAST_OVERLAP)));
  const fft = new Fft2(room(fixed.width), room(fixed.height));
  const { width: w, height: h } = fft;
  const [fr, fi] = packed(fixed, fft);
  fft.run(fr, fi, false, fixed.height);
  const found: Candidate[] = [];
  const energy = fixed.data.reduce((s, v) => s + v * v, 0) / fixed.data.length;
  for (const scale of scales) {
    for (const degrees of rotationsDeg) {
      const turned = turn(moving, fixed.width, fixed.height, degrees, scale);
      const [mr, mi] = packed(turned.plane, fft, turned.mask);
      fft.run(mr, mi, false, fixed.height);
      const [score, overlap] = correlate(fft, fr, fi, mr, mi);
      const least = LEAST_OVERLAP * fixed.data.length;
      let best = -1;
      let at = 0;
      for (let i = 0; i < score.length; i++) {
        if (overlap[i] < least) continue;
        const s = score[i] / (energy * (overlap[i] + 0.1 * fixed.data.length));
        if (s > best) {
          best = s;
          at = i;
        }
      }
      // correlation at (dx, dy): fixed(x) meets turned(x − d)
      const dx = (at % w) - (at % w > w / 2 ? w : 0);
      const dy = Math.floor(at / w) - (Math.floor(at / w) > h / 2 ? h : 0);
      const [a, b, c, d, e, f] = turned.map;
      const matrix = [a, b, c - a * dx - b * dy, d, e, f - d * dx - e * dy, 0, 0, 1];
      found.push({ matrix, score: best });
    }
  }
  return found.sort((p, q) => q.score - p.score).slice(0, keep);
}

/** Picture as real part, coverage as imaginary part, zero-padded. */
function packed(p: Plane, { width, height }: Fft2, mask?: Uint8Array): [Float64Array, Float64Array] {
  const re = new Float64Array(width * height);
  const im = new Float64Array(width * height);
  for (let y = 0; y < p.height; y++) {
    for (let x = 0; x < p.width; x++) {
      const i = y * p.width + x;
      const on = mask ? mask[i] : 1;
      re[y * width + x] = on ? p.data[i] : 0;
      im[y * width + x] = on;
    }
  }
  return [re, im];
}

/** Cross-correlations of the real parts and of the imaginary parts of two transformed packed pictures. */
function correlate(fft: Fft2, fr: Float64Array, fi: Float64Array, mr: Float64Array, mi: Float64Array) {
  const { width, height } = fft;
  const re = new Float64Array(width * height);
  const im = new Float64Array(width * height);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const k = y * width + x;
      const m = ((height - y) % height) * width + ((width - x) % width);
      // split the packed spectra into those of picture p and coverage c, then multiply by the conjugate
      const fpr = (fr[k] + fr[m]) / 2;
      const fpi = (fi[k] - fi[m]) / 2;
      const fcr = (fi[k] + fi[m]) / 2;
      const fci = (fr[m] - fr[k]) / 2;
      const mpr = (mr[k] + mr[m]) / 2;
      const mpi = (mi[k] - mi[m]) / 2;
      const mcr = (mi[k] + mi[m]) / 2;
      const mci = (mr[m] - mr[k]) / 2;
      re[k] = fpr * mpr + fpi * mpi - (fci * mcr - fcr * mci);
      im[k] = fpi * mpr - fpr * mpi + (fcr * mcr + fci * mci);
    }
  }
  fft.run(re, im, true);
  const scale = 1 / (width * height);
  return [re.map((v) => v * scale), im.map((v) => v * scale)] as const;
}

/** Turns and scales the moving picture about its centre onto the fixed grid; map: turned → moving (affine, six numbers). */
function turn(p: Plane, width: number, height: number, degrees: number, scale: number) {
  const angle = (degrees * Math.PI) / 180;
  const c = Math.cos(angle) * scale;
  const s = Math.sin(angle) * scale;
  const cx = (width - 1) / 2;
  const cy = (height - 1) / 2;
  const map = [c, -s, (p.width - 1) / 2 - c * cx + s * cy, s, c, (p.height - 1) / 2 - s * cx - c * cy];
  return { ...sampleInto(p, width, height, (x, y) => [map[0] * x + map[1] * y + map[2], map[3] * x + map[4] * y + map[5]]), map };
}

/** A picture as it is seen through a map from another grid; mask is 1 where it is seen. */
export function sampleInto(p: Plane, width: number, height: number, find: Finder): { plane: Plane; mask: Uint8Array } {
  const data = new Float32Array(width * height);
  const mask = new Uint8Array(width * height);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const [u, v] = find(x, y);
      const ui = Math.floor(u);
      const vi = Math.floor(v);
      // a map may lead nowhere
      if (!(ui >= 0 && vi >= 0 && ui + 1 < p.width && vi + 1 < p.height)) continue;
      const a = u - ui;
      const b = v - vi;
      const q = vi * p.width + ui;
      const upper = p.data[q] * (1 - a) + p.data[q + 1] * a;
      const lower = p.data[q + p.width] * (1 - a) + p.data[q + p.width + 1] * a;
      data[y * width + x] = upper * (1 - b) + lower * b;
      mask[y * width + x] = 1;
    }
  }
  return { plane: { width, height, data }, mask };
}

/**
 * Other shifts under which two pictures on one grid correlate: local maxima beyond `apart` px of no shift, from `share` of what no shift has, the highest first.
 * @param mask 1 where the other picture is seen
 * @returns shifts d, px: the fixed picture at x meets the other at x − d
 */
export function otherShifts(fixed: Plane, other: Plane, mask: Uint8Array, apart: number, share: number): { dx: number; dy: number; score: number }[] {
  const { width, height } = fixed;
  // shifts of more than two thirds of the frame come round from the other side, where hardly anything overlaps
  const room = (side: number) => transformLength(Math.max(64, 1.35 * side));
  const fft = new Fft2(room(width), room(height));
  const { width: w, height: h } = fft;
  const [fr, fi] = packed(fixed, fft);
  fft.run(fr, fi, false, fixed.height);
  const [mr, mi] = packed(other, fft, mask);
  fft.run(mr, mi, false, height);
  const [sum, overlap] = correlate(fft, fr, fi, mr, mi);
  const all = width * height;
  const score = sum.map((v, i) => (overlap[i] < LEAST_OVERLAP * all ? 0 : v / (overlap[i] + 0.1 * all)));
  const at = (dx: number, dy: number) => score[((dy + h) % h) * w + ((dx + w) % w)];
  let unmoved = 0;
  for (let dy = -apart; dy <= apart; dy++) for (let dx = -apart; dx <= apart; dx++) unmoved = Math.max(unmoved, at(dx, dy));
  if (unmoved <= 0) return [];
  const found: { dx: number; dy: number; score: number }[] = [];
  for (let dy = -h / 2; dy < h / 2; dy++) {
    for (let dx = -w / 2; dx < w / 2; dx++) {
      const here = at(dx, dy);
      if (here < share * unmoved || Math.hypot(dx, dy) <= apart) continue;
      let top = true;
      for (let v = -1; v <= 1 && top; v++) for (let u = -1; u <= 1 && top; u++) if ((u || v) && at(dx + u, dy + v) > here) top = false;
      if (top) found.push({ dx, dy, score: here });
    }
  }
  found.sort((p, q) => q.score - p.score);
  const kept: typeof found = [];
  for (const p of found) if (kept.every((q) => Math.hypot(p.dx - q.dx, p.dy - q.dy) > apart)) kept.push(p);
  return kept;
}
