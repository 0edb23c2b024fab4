import type { GreyPyramid } from "../register/greyPyramid";
import { levelOf } from "../register/greyPyramid";
import { USABLE_HIGH, USABLE_LOW } from "../register/photometry";
import { median } from "../numeric/statistics";

/** Cells of the sharpness map. */
export const GRID = { columns: 12, rows: 8 } as const;

interface Grey {
  width: number;
  height: number;
  data: ArrayLike<number>;
}

/**
 * Fourth root of the mean fourth power of the slope per cell, grey codes a px; places beside clipped or black samples do not count.
 * A high power, because the mean slope over an edge is its contrast however wide it is. NaN where a cell holds too few.
 */
function slopes(p: Grey): number[] {
  const sums = new Float64Array(GRID.columns * GRID.rows);
  const counts = new Float64Array(sums.length);
  const stride = Math.max(1, Math.floor(Math.max(p.width, p.height) / 1200));
  const usable = (v: number) => v >= USABLE_LOW && v <= USABLE_HIGH;
  for (let y = 1; y < p.height - 1; y += stride) {
    const row = Math.min(GRID.rows - 1, Math.floor((y * GRID.rows) / p.height)) * GRID.columns;
    for (let x = 1; x < p.width - 1; x += stride) {
      const i = y * p.width + x;
      const [left, right, up, down] = [p.data[i - 1], p.data[i + 1], p.data[i - p.width], p.data[i + p.width]];
      if (!usable(left) || !usable(right) || !usable(up) || !usable(down)) continue;
      const c = row + Math.min(GRID.columns - 1, Math.floor((x * GRID.columns) / p.width));
      const square = ((right - left) * (right - left) + (down - up) * (down - up)) / 4;
      sums[c] += square * square;
      counts[c]++;
    }
  }
  return Array.from(sums, (s, c) => (counts[c] > 20 ? (s / counts[c]) ** 0.25 : NaN));
}

/** Slope, in grey codes a px, below which a cell has no structure to judge sharpness by. */
const STRUCTURE = 700;

/**
 * Sharpness per cell: slope of fine structure (level 1) over that of structure four times coarser. It falls with blur and hardly
 * depends on contrast. NaN where a cell has no structure. @param noiseSigma of the frame, 0..255
 */
export function sharpnessGrid(pyramid: GreyPyramid, noiseSigma: number): number[] {
  const fine = slopes(levelOf(pyramid, Math.min(1, pyramid.levels.length - 1)));
  const coarse = slopes(levelOf(pyramid, Math.min(3, pyramid.levels.length - 1)));
  // the squared slope of white noise is exponentially distributed about its variance, so its square is twice that squared; a level halves sigma
  const noise = 2 * (noiseSigma * 257 * 0.5) ** 4;
  return fine.map((f, c) => {
    const g = coarse[c];
    if (!(g > STRUCTURE)) return NaN;
    return Math.round((1000 * Math.max(0, f ** 4 - noise) ** 0.25) / g) / 1000;
  });
}

/** Points of light on a dark ground: local maxima well above what surrounds them and only a few px across. */
export function countStars(pyramid: GreyPyramid): number {
  const { width: w, height: h, data } = levelOf(pyramid, Math.min(1, pyramid.levels.length - 1));
  const sample: number[] = [];
  for (let i = 0; i < data.length; i += 97) sample.push(data[i]);
  const ground = median(sample);
  if (ground > 20000) return 0;
  const spread = 1.4826 * median(sample.map((v) => Math.abs(v - ground))) + 60;
  let stars = 0;
  for (let y = 4; y < h - 4; y++) {
    for (let x = 4; x < w - 4; x++) {
      const i = y * w + x;
      const v = data[i];
      if (v < ground + 12 * spread) continue;
      let peak = true;
      for (let dy = -1; dy <= 1 && peak; dy++) for (let dx = -1; dx <= 1; dx++) if ((dx || dy) && data[i + dy * w + dx] > v) peak = false;
      if (!peak) continue;
      // four px away all around it is dark again
      const around = [data[i - 4], data[i + 4], data[i - 4 * w], data[i + 4 * w]];
      if (around.every((a) => a < ground + (v - ground) * 0.35)) stars++;
    }
  }
  return stars;
}

/** Share of the border (2 % of the side) that has the border's most common tone, 0..1. */
export function plainBorder(grey: Grey): number {
  const { width: w, height: h, data } = grey;
  const rim = Math.max(2, Math.round(Math.min(w, h) * 0.02));
  const values: number[] = [];
  for (let y = 0; y < h; y++) {
    const edge = y < rim || y >= h - rim;
    for (let x = 0; x < w; x += edge ? 3 : 1) {
      if (!edge && x === rim) x = w - rim;
      values.push(data[y * w + x]);
    }
  }
  const middle = median(values);
  return values.filter((v) => Math.abs(v - middle) < 520).length / values.length;
}
