import { weightedGuidedFilter } from "./guidedFilter";
import { boxMean } from "../raster/boxMean";
import { median } from "../numeric/statistics";

/** Side of a cell of the depth map, px of the picture. */
export const CELL = 2;
/** Radius over which sharpness is gathered, cells. */
const GATHER = 2;

/** What a focus stack says of depth, per cell. */
export interface DepthMap {
  width: number;
  height: number;
  /** index of the sharpest frame in the order given, fractional */
  index: Float32Array;
  /** the same smoothed less, for joining frames: right at steps, where a smooth depth would take frames that lie between */
  choice: Float32Array;
  /** 0..1: how much the sharpest frame stands out */
  confidence: Float32Array;
}

/**
 * Finds for every cell of 2×2 px the frame that is sharpest there, frame by frame, so that any number of frames takes the memory of a
 * few planes. Sharpness is the energy of second differences of px and of cells, less what noise alone makes; between frames the index is
 * interpolated through the three frames around the peak. @see Nayar and Nakagawa 1994, "Shape from focus" (sum-modified Laplacian)
 */
export class DepthFinder {
  readonly width: number;
  readonly height: number;
  private count = 0;
  private readonly best: Float32Array;
  private readonly bestIndex: Float32Array;
  private readonly before: Float32Array;
  private readonly after: Float32Array;
  private readonly sum: Float32Array;
  private readonly guide: Float32Array;
  private last: Float32Array | null = null;

  /** @param size of the picture, px */
  constructor(size: { width: number; height: number }) {
    this.width = Math.ceil(size.width / CELL);
    this.height = Math.ceil(size.height / CELL);
    const plane = () => new Float32Array(this.width * this.height);
    [this.best, this.bestIndex, this.before, this.after, this.sum, this.guide] = [plane(), plane(), plane(), plane(), plane(), plane()];
  }

  /**
   * Takes the next frame. @param energy per cell from `sharpnessOf`, 0 where the frame does not cover @param light mean per cell, NaN there
   * @param noise standard deviation of the encoded light, px
   */
  add(energy: Float32Array, light: Float32Array, noise: number): void {
    const { width, height } = this;
    const both = energy.slice();
    const floor = (12 * noise * noise) / (CELL * CELL);
    for (let y = 1; y < height - 1; y++) {
      for (let x = 1; x < width - 1; x++) {
        const i = y * width + x;
        const twice = 2 * light[i];
        const [across, down] = [twice - light[i - 1] - light[i + 1], twice - light[i - width] - light[i + width]];
        const coarse = across * across + down * down - floor;
        // not a number where the frame does not cover all of it
        if (coarse > 0) both[i] += coarse;
      }
    }
    const e = boxMean({ width, height, data: boxMean({ width, height, data: both }, GATHER) }, GATHER);
    const k = this.count++;
    for (let i = 0; i < e.length; i++) {
      this.sum[i] += e[i];
      if (this.bestIndex[i] === k - 1) this.after[i] = e[i];
      if (k > 0 && e[i] <= this.best[i]) continue;
      this.best[i] = e[i];
      this.bestIndex[i] = k;
      this.before[i] = this.last ? this.last[i] : 0;
      this.after[i] = 0;
      if (!Number.isNaN(light[i])) this.guide[i] = light[i];
    }
    this.last = e;
  }

  /** The depth map, smoothed along the edges of the picture; where no frame stands out the surroundings decide. */
  finish(): DepthMap {
    const { width, height, count } = this;
    const index = new Float32Array(this.best.length);
    const choice = new Float32Array(this.best.length);
    const confidence = new Float32Array(this.best.length);
    const sample: number[] = [];
    for (let i = 0; i < this.best.length; i += 37) if (this.best[i] > 0) sample.push(this.best[i]);
    const typical = sample.length ? median(sample) : 1;
    for (let i = 0; i < index.length; i++) {
      const k = this.bestIndex[i];
      index[i] = k + peakOffset(this.before[i], this.best[i], this.after[i], k > 0, k < count - 1);
      const others = (this.sum[i] - this.best[i]) / Math.max(1, count - 1);
      const contrast = this.best[i] > 0 ? 1 - others / this.best[i] : 0;
      confidence[i] = (Math.max(0, contrast - LEAST_CONTRAST) / (1 - LEAST_CONTRAST)) ** 2 * (this.best[i] / (this.best[i] + 0.05 * typical));
    }
    // from far to near: each smoothing where it has something to go by, else the wider one
    let wider: Float32Array | null = null;
    const [, , near, fine] = [FAR, MIDDLE, NEAR, FINE].map(({ radius, epsilon }) => {
      const own = weightedGuidedFilter({ width, height, data: index }, confidence, this.guide, radius, epsilon);
      const known = boxMean({ width, height, data: confidence }, radius);
      const before = wider;
      wider = own.map((v, i) => {
        const share = before ? known[i] / (known[i] + ENOUGH) : 1;
        return Math.max(0, Math.min(count - 1, share * v + (1 - share) * (before?.[i] ?? 0)));
      });
      return wider;
    });
    index.set(near);
    choice.set(fine);
    return { width, height, index, choice, confidence };
  }
}

/** Smoothing where the stack says enough, and how far it looks where it does not. Cells, and variance of light 0..1. */
const FINE = { radius: 2, epsilon: 4e-4 };
const NEAR = { radius: 9, epsilon: 4e-4 };
const MIDDLE = { radius: 21, epsilon: 4e-4 };
const FAR = { radius: 48, epsilon: 4e-4 };
/** Mean confidence at which near and far surroundings count alike. */
const ENOUGH = 0.03;
/** Share by which the sharpest frame stands out by chance, where there is noise or a glow of what is out of focus only. Found by trying, no source. */
const LEAST_CONTRAST = 0.25;

/** Where a parabola through the logarithms of three neighbours peaks, −0.5..0.5 of a step. */
function peakOffset(before: number, best: number, after: number, hasBefore: boolean, hasAfter: boolean): number {
  if (!hasBefore || !hasAfter || !(before > 0) || !(after > 0) || !(best > 0)) return 0;
  const [a, b, c] = [Math.log(before), Math.log(best), Math.log(after)];
  const bend = a - 2 * b + c;
  return bend < -1e-6 ? Math.max(-0.5, Math.min(0.5, (0.5 * (a - c)) / bend)) : 0;
}

/**
 * Energy of second differences of encoded light per cell, less the energy of noise.
 * @param light encoded 0..1, `rows` rows of `width` with a row above and one below @param rows a multiple of CELL but for the last strip
 * @param covered above nought where the frame shows anything, same layout; samples beside others do not count
 * @param noise standard deviation of the encoded light
 * @returns energy and mean light, one row of cells for every CELL rows; no energy and no light where nothing is covered
 */
export function sharpnessOf(
  light: Float32Array,
  covered: Float32Array,
  width: number,
  rows: number,
  noise: number,
): { energy: Float32Array; mean: Float32Array } {
  const columns = Math.ceil(width / CELL);
  const lines = Math.ceil(rows / CELL);
  const energy = new Float32Array(columns * lines);
  const mean = new Float32Array(columns * lines);
  const counts = new Uint8Array(columns * lines);
  for (let y = 0; y < rows; y++) {
    for (let x = 0; x < width; x++) {
      const i = (y + 1) * width + x;
      const c = (y >> 1) * columns + (x >> 1);
      if (!(covered[i] && covered[i - width] && covered[i + width] && covered[Math.max(i - 1, i - x)] && covered[x + 1 < width ? i + 1 : i])) continue;
      const [l, r] = [x > 0 ? light[i - 1] : light[i], x + 1 < width ? light[i + 1] : light[i]];
      const twice = 2 * light[i];
      const [across, down] = [twice - l - r, twice - light[i - width] - light[i + width]];
      energy[c] += across * across + down * down;
      mean[c] += light[i];
      counts[c]++;
    }
  }
  // a second difference of white noise has six times its variance; two of them a px
  const floor = 12 * noise * noise;
  for (let c = 0; c < energy.length; c++) {
    if (counts[c] === 0) {
      mean[c] = NaN;
      continue;
    }
    energy[c] = Math.max(0, energy[c] / counts[c] - floor);
    mean[c] /= counts[c];
  }
  return { energy, mean };
}

/**
 * Weight of frame k where the depth is `index`: one near its own index, falling to the neighbour's over a half of the step, so
 * that hardly any place mixes a sharp frame with a less sharp one. Weights of all frames sum to one.
 */
export function focusWeight(index: number, k: number): number {
  const distance = Math.abs(index - k);
  return Math.max(0, Math.min(1, 0.5 + (0.5 - distance) / TRANSITION));
}
/** Part of a step over which one frame gives way to the next. */
const TRANSITION = 0.8;
