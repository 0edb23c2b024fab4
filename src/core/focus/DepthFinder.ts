import { weightedGuidedFilter } from "./guidedFilter";
import { boxMean, type Field } from "../raster/boxMean";
import { median, quantile } from "../numeric/statistics";

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

/** Side of a wide place, cells. */
const WIDE = 8;

/**
 * Finds for every cell of 2×2 px the frame that is sharpest there, frame by frame, so that any number of frames takes the memory of a
 * few planes. Sharpness is the energy of second differences of px and of cells, less what noise alone makes of it in this frame at this
 * light; between frames the index is interpolated through the three frames around the peak. Where nothing near stands out of the noise,
 * the energy of wide places decides, in which also weak detail does; beside an edge it is the edge's.
 * @see Nayar and Nakagawa 1994, "Shape from focus" (sum-modified Laplacian)
 */
export class DepthFinder {
  readonly width: number;
  readonly height: number;
  private count = 0;
  private readonly near: SharpestFrame;
  private readonly wide: SharpestFrame;
  private readonly guide: Float32Array;

  /** @param size of the picture, px */
  constructor(size: { width: number; height: number }) {
    this.width = Math.ceil(size.width / CELL);
    this.height = Math.ceil(size.height / CELL);
    this.near = new SharpestFrame(this.width, this.height);
    this.wide = new SharpestFrame(Math.ceil(this.width / WIDE), Math.ceil(this.height / WIDE));
    this.guide = new Float32Array(this.width * this.height);
  }

  /**
   * Takes the next frame. @param energy per cell from `sharpnessOf`, 0 where the frame does not cover @param light mean per cell, NaN there
   * @param noise standard deviation of the encoded light, px
   */
  add(energy: Float32Array, light: Float32Array, noise: number): void {
    const { width, height } = this;
    const both = energy.slice();
    for (let y = 1; y < height - 1; y++) {
      for (let x = 1; x < width - 1; x++) {
        const i = y * width + x;
        const twice = 2 * light[i];
        const [across, down] = [twice - light[i - 1] - light[i + 1], twice - light[i - width] - light[i + width]];
        const coarse = across * across + down * down;
        // not a number where the frame does not cover all of it
        if (coarse > 0) both[i] += coarse;
      }
    }
    const gathered = this.near.gather(both);
    // a second difference of white noise has six times its variance; there are two a px, and two a cell of the mean of CELL² px
    const noiseAt = noiseByLight(gathered, light, 12 * noise * noise * (1 + 1 / (CELL * CELL)));
    const better = this.near.add(gathered, light.map(noiseAt));
    for (let i = 0; i < light.length; i++) if (better[i] && !Number.isNaN(light[i])) this.guide[i] = light[i];
    const wide = { width: this.wide.width, height: this.wide.height };
    const around = meanOfSquares(both, light, width, height, wide);
    this.wide.add(this.wide.gather(around.value), around.light.map(noiseAt));
    this.count++;
  }

  /** The depth map, smoothed along the edges of the picture; where no frame stands out the surroundings decide. */
  finish(): DepthMap {
    const { width, height, guide, count } = this;
    const { index, confidence } = this.near.finish(PLAIN);
    const base = this.filledWide();
    // near smoothing where it has something to go by, else what the wide places say
    const smoothed = ({ radius, epsilon }: typeof NEAR, wider: Float32Array): Float32Array => {
      const own = weightedGuidedFilter({ width, height, data: index }, confidence, guide, radius, epsilon);
      const known = boxMean({ width, height, data: confidence }, radius);
      return own.map((v, i) => {
        const share = known[i] / (known[i] + ENOUGH);
        return Math.max(0, Math.min(count - 1, share * v + (1 - share) * wider[i]));
      });
    };
    const far = smoothed(FAR, base);
    const near = smoothed(NEAR, far);
    return { width, height, index: near, choice: smoothed(FINE, near), confidence };
  }

  /** What wide places say, filled in from their surroundings, for every cell. */
  private filledWide(): Float32Array {
    const { width, height } = this.wide;
    const { index, confidence } = this.wide.finish(WIDE_PLAIN);
    const weighed = index.map((v, i) => v * confidence[i]);
    let filled = new Float32Array(index.length).fill((this.count - 1) / 2);
    for (let radius = Math.max(width, height); radius >= 1; radius >>= 1) {
      const [known, sum] = [confidence, weighed].map((data) => boxMean({ width, height, data }, radius));
      // what is known weakly counts fully where nothing is known better
      filled = filled.map((wider, i) => (sum[i] + ENOUGH * wider * LITTLE) / (known[i] + ENOUGH * LITTLE));
    }
    return enlarge({ width, height, data: filled }, WIDE, this.width, this.height);
  }
}

/** Which of the frames added is sharpest at each place. */
class SharpestFrame {
  private count = 0;
  private readonly best: Float32Array;
  private readonly bestIndex: Float32Array;
  private readonly before: Float32Array;
  private readonly after: Float32Array;
  private readonly sum: Float32Array;
  /** energy of noise in the best frame */
  private readonly noise: Float32Array;
  private last: Float32Array | null = null;

  constructor(
    readonly width: number,
    readonly height: number,
  ) {
    [this.best, this.bestIndex, this.before, this.after, this.sum, this.noise] = Array.from({ length: 6 }, () => new Float32Array(width * height));
  }

  /** Energy gathered from around each place. */
  gather(energy: Float32Array): Float32Array {
    const { width, height } = this;
    return boxMean({ width, height, data: boxMean({ width, height, data: energy }, GATHER) }, GATHER);
  }

  /** Takes the next frame. @param energy gathered @param noise what of it is noise @returns 1 where the frame is sharper than all before */
  add(energy: Float32Array, noise: Float32Array): Uint8Array {
    const better = new Uint8Array(energy.length);
    const k = this.count++;
    const e = energy.map((v, i) => Math.max(0, v - noise[i]));
    for (let i = 0; i < e.length; i++) {
      this.sum[i] += e[i];
      if (this.bestIndex[i] === k - 1) this.after[i] = e[i];
      if (k > 0 && e[i] <= this.best[i]) continue;
      better[i] = 1;
      this.best[i] = e[i];
      this.noise[i] = noise[i];
      this.bestIndex[i] = k;
      this.before[i] = this.last ? this.last[i] : 0;
      this.after[i] = 0;
    }
    this.last = e;
    return better;
  }

  /** Fractional index of the sharpest frame and how much it stands out. @param plain times the energy of noise at which a place is half believed */
  finish(plain: number): { index: Float32Array; confidence: Float32Array } {
    const { best, before, after, sum, noise, bestIndex, count } = this;
    const sample: number[] = [];
    for (let i = 0; i < best.length; i += 37) if (best[i] > 0) sample.push(best[i]);
    const typical = sample.length ? median(sample) : 1;
    const index = bestIndex.map((k, i) => k + peakOffset(before[i], best[i], after[i], k > 0, k < count - 1));
    const confidence = best.map((v, i) => {
      if (!(v > 0)) return 0;
      const contrast = 1 - (sum[i] - v) / Math.max(1, count - 1) / v;
      const believed = v ** 2 / (v ** 2 + (plain * noise[i]) ** 2);
      return (Math.max(0, contrast - LEAST_CONTRAST) / (1 - LEAST_CONTRAST)) ** 2 * believed * (v / (v + 0.05 * typical));
    });
    return { index, confidence };
  }
}

/** Means of values and of light over squares of WIDE cells, cells without light left out; no light where there is none. */
function meanOfSquares(values: Float32Array, light: Float32Array, width: number, height: number, wide: { width: number; height: number }) {
  const [value, mean, counts] = [0, 1, 2].map(() => new Float32Array(wide.width * wide.height));
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      if (Number.isNaN(light[i])) continue;
      const c = Math.floor(y / WIDE) * wide.width + Math.floor(x / WIDE);
      value[c] += values[i];
      mean[c] += light[i];
      counts[c]++;
    }
  }
  return { value: value.map((v, c) => (counts[c] ? v / counts[c] : 0)), light: mean.map((v, c) => (counts[c] ? v / counts[c] : NaN)) };
}

/** A field enlarged `times`, linear between the middles of its places. */
function enlarge({ width, height, data }: Field, times: number, toWidth: number, toHeight: number): Float32Array {
  const out = new Float32Array(toWidth * toHeight);
  const place = (v: number, size: number) => {
    const at = Math.max(0, Math.min(size - 1, (v + 0.5) / times - 0.5));
    const low = Math.floor(at);
    return { low, high: Math.min(size - 1, low + 1), part: at - low };
  };
  const columns = Array.from({ length: toWidth }, (_, x) => place(x, width));
  for (let y = 0, i = 0; y < toHeight; y++) {
    const { low, high, part } = place(y, height);
    for (const c of columns) {
      const above = data[low * width + c.low] + (data[low * width + c.high] - data[low * width + c.low]) * c.part;
      const below = data[high * width + c.low] + (data[high * width + c.high] - data[high * width + c.low]) * c.part;
      out[i++] = above + (below - above) * part;
    }
  }
  return out;
}

/** Smoothing where the stack says enough, and how far it looks where it does not. Cells, and variance of light 0..1. */
const FINE = { radius: 2, epsilon: 4e-4 };
const NEAR = { radius: 9, epsilon: 4e-4 };
const FAR = { radius: 21, epsilon: 4e-4 };
/** Mean confidence at which near and far surroundings count alike. */
const ENOUGH = 0.1;
const LITTLE = 0.1;
/** Share by which the sharpest frame stands out by chance, where there is noise or a glow of what is out of focus only. Found by trying, no source. */
const LEAST_CONTRAST = 0.25;
/** Times the energy of noise at which a cell, and a wide place, is half believed: the best of several frames stands out by a third of it by chance, of 64 cells by a twentieth. */
const PLAIN = 8;
const WIDE_PLAIN = 0.3;

/** Steps of light in which noise is told apart, and the most that resampling and files make of what was measured, times. */
const STEPS = 16;
const MOST_NOISE = 8;
/** So much of a frame at any light shows nothing sharp. */
const UNSHARP_SHARE = 0.2;
/** Mean of the energies gathered from white noise over the one a fifth of them lie below; by simulation. */
const MEAN_OVER_QUANTILE = 1.07;
/** Cells looked at for the noise of a frame. */
const LOOKED_AT = 60_000;

/**
 * The energy that noise alone makes in a frame, by light. It is read off the frame itself, which is out of focus almost everywhere:
 * frames that were resampled have less of it than the reference, and the dark has another than the bright.
 * @param measured what the noise measured in flat areas makes @returns energy at a light, 0 where that is NaN
 */
function noiseByLight(energy: Float32Array, light: Float32Array, measured: number): (light: number) => number {
  const seen: number[][] = Array.from({ length: STEPS }, () => []);
  const every = Math.max(1, Math.floor(energy.length / LOOKED_AT));
  const stepOf = (v: number) => Math.max(0, Math.min(STEPS - 1, Math.floor(v * STEPS)));
  for (let i = 0; i < energy.length; i += every) if (!Number.isNaN(light[i])) seen[stepOf(light[i])].push(energy[i]);
  const enough = seen.map((v) => v.length >= 100);
  const level = seen.map((v, i) => (enough[i] ? Math.min(MEAN_OVER_QUANTILE * quantile(v, UNSHARP_SHARE), MOST_NOISE * measured) : measured));
  return (v) => {
    if (Number.isNaN(v)) return 0;
    const at = Math.max(0, Math.min(STEPS - 1, v * STEPS - 0.5));
    const low = Math.floor(at);
    const high = Math.min(STEPS - 1, low + 1);
    return level[low] + (level[high] - level[low]) * (at - low);
  };
}

/** Where a parabola through the logarithms of three neighbours peaks, −0.5..0.5 of a step. */
function peakOffset(before: number, best: number, after: number, hasBefore: boolean, hasAfter: boolean): number {
  if (!hasBefore || !hasAfter || !(before > 0) || !(after > 0) || !(best > 0)) return 0;
  const [a, b, c] = [Math.log(before), Math.log(best), Math.log(after)];
  const bend = a - 2 * b + c;
  return bend < -1e-6 ? Math.max(-0.5, Math.min(0.5, (0.5 * (a - c)) / bend)) : 0;
}

/**
 * Energy of second differences of encoded light per cell.
 * @param light encoded 0..1, `rows` rows of `width` with a row above and one below @param rows a multiple of CELL but for the last strip
 * @param covered above nought where the frame shows anything, same layout; samples beside others do not count
 * @returns energy and mean light, one row of cells for every CELL rows; no energy and no light where nothing is covered
 */
export function sharpnessOf(light: Float32Array, covered: Float32Array, width: number, rows: number): { energy: Float32Array; mean: Float32Array } {
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
  for (let c = 0; c < energy.length; c++) {
    if (counts[c] === 0) {
      mean[c] = NaN;
      continue;
    }
    energy[c] /= counts[c];
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
