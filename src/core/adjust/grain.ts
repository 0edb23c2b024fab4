import { FROM_REC709, TO_REC709 } from "../color/primaries";
import { decodeSrgb, encodeSrgb } from "../color/srgbCurve";
import type { Rectangle } from "../geometry/rectangle";

/** Uniform 0..1 of a place, the same for the same place. @see Jarzynski, Olano 2020 (PCG hash, constants recalled from memory) */
function hash(x: number, y: number): number {
  let v = (Math.imul(x, 1664525) + Math.imul(y, 22695477) + 1013904223) | 0;
  v = Math.imul(v ^ (v >>> 16), 0x7feb352d);
  v = Math.imul(v ^ (v >>> 15), 0x846ca68b);
  return ((v ^ (v >>> 16)) >>> 0) / 4294967296;
}

/**
 * Grain of standard deviation 1 and mean 0 over places of the picture: the sum of three uniform values, on a grid of `sizePx` between
 * which it is linear. It lies on the picture, not on the screen.
 */
export function grain(sizePx: number, level: number, rect: Rectangle): Float32Array {
  const out = new Float32Array(rect.width * rect.height);
  const step = 2 ** level / sizePx;
  const at = (x: number, y: number) => (hash(x, y) + hash(x + 7919, y) + hash(x, y + 7919) - 1.5) * 2;
  for (let j = 0, i = 0; j < rect.height; j++) {
    const v = (rect.y + j + 0.5) * step;
    const y = Math.floor(v);
    for (let k = 0; k < rect.width; k++, i++) {
      const u = (rect.x + k + 0.5) * step;
      const x = Math.floor(u);
      const [s, t] = [u - x, v - y];
      const sum = (1 - s) * (1 - t) * at(x, y) + s * (1 - t) * at(x + 1, y) + (1 - s) * t * at(x, y + 1) + s * t * at(x + 1, y + 1);
      // mixing four values lowers their spread
      out[i] = sum / Math.sqrt(((1 - s) ** 2 + s * s) * ((1 - t) ** 2 + t * t));
    }
  }
  return out;
}

/** Encoded values that the grain of dark, middle and light tones is told for. */
export const GRAIN_TONES = [0.15, 0.5, 0.85] as const;

/** Deviations that a grain's neighbourhood reaches. */
const REACH = 3;
/** Grain finer than that, samples, lets neighbours have nothing to do with each other. */
const FINEST = 0.25;

/** Normal noise of a sample of a level, the same for the same place: by the sum of four uniform values. */
function white(x: number, y: number, seed: number): number {
  const at = Math.imul(seed, 40503);
  return (hash(x + at, y) + hash(x, y + at + 7919) + hash(x + 104729, y - at) + hash(x - at, y + 15485) - 2) * Math.sqrt(3);
}

/**
 * A field of grain with deviation 1 whose neighbours are alike as those of white noise blurred by `sizePx`, on the samples of a level. It lies on the picture: parts of it are parts of
 * the same. @param seed another grain
 */
export function grainField(sizePx: number, seed: number, level: number, { x, y, width, height }: Rectangle): Float32Array {
  const size = grainAt(sizePx, level).sizePx;
  const reach = size < FINEST ? 0 : Math.ceil(REACH * size);
  const kernel = Array.from({ length: 2 * reach + 1 }, (_, k) => (reach === 0 ? 1 : Math.exp(-((k - reach) ** 2) / (2 * size * size))));
  const power = Math.sqrt(kernel.reduce((s, w) => s + w * w, 0));
  const weights = Float32Array.from(kernel, (w) => w / power);
  const wide = width + 2 * reach;
  const rows = new Float32Array(width * (height + 2 * reach));
  const line = new Float32Array(wide);
  for (let j = 0; j < height + 2 * reach; j++) {
    for (let i = 0; i < wide; i++) line[i] = white(x + i - reach, y + j - reach, seed + 31 * level);
    for (let i = 0; i < width; i++) {
      let sum = 0;
      for (let k = 0; k <= 2 * reach; k++) sum += weights[k] * line[i + k];
      rows[j * width + i] = sum;
    }
  }
  if (reach === 0) return rows;
  const out = new Float32Array(width * height);
  for (let j = 0; j < height; j++)
    for (let k = 0; k <= 2 * reach; k++) {
      const [from, w] = [(j + k) * width, weights[k]];
      for (let i = 0; i < width; i++) out[j * width + i] += w * rows[from + i];
    }
  return out;
}

/** What of a grain is left on the samples of a coarser level, each the mean of those below it: how large it is there, samples, and its deviation against that of px. */
export function grainAt(sizePx: number, level: number): { sizePx: number; times: number } {
  if (level === 0) return { sizePx, times: 1 };
  const wide = 2 ** level;
  // a mean over a square of so many px of noise that is alike over an area of 4π s², at least a px
  const alike = Math.max(1, 4 * Math.PI * sizePx * sizePx);
  return { sizePx: Math.max(0, sizePx / wide), times: Math.sqrt(alike / (alike + wide * wide - 1)) };
}

/** Adds grain to linear planes, in place: deviations by tone in 8-bit steps of green, red and blue times that, and the share of it that all three have together. */
export function addGrain([r, g, b]: readonly Float32Array[], v: Record<string, number>, level: number, rect: Rectangle): void {
  const { times } = grainAt(v.sizePx, level);
  const [common, ...own] = [0, 1, 2, 3].map((k) => grainField(v.sizePx, v.seed * 4 + k, level, rect));
  const [together, apart] = [Math.sqrt(v.common), Math.sqrt(1 - v.common)];
  const by = [v.red, 1, v.blue];
  const sigmas = [v.dark, v.middle, v.light].map((s) => (times * s) / 255);
  const shift = [0, 0, 0];
  for (let i = 0; i < r.length; i++) {
    for (let c = 0; c < 3; c++) {
      const light = Math.max(0, TO_REC709[3 * c] * r[i] + TO_REC709[3 * c + 1] * g[i] + TO_REC709[3 * c + 2] * b[i]);
      const encoded = encodeSrgb(light);
      const grained = Math.max(0, encoded + sigmaAt(sigmas, encoded) * by[c] * (together * common[i] + apart * own[c][i]));
      shift[c] = decodeSrgb(grained) - light;
    }
    r[i] += FROM_REC709[0] * shift[0] + FROM_REC709[1] * shift[1] + FROM_REC709[2] * shift[2];
    g[i] += FROM_REC709[3] * shift[0] + FROM_REC709[4] * shift[1] + FROM_REC709[5] * shift[2];
    b[i] += FROM_REC709[6] * shift[0] + FROM_REC709[7] * shift[1] + FROM_REC709[8] * shift[2];
  }
}

/** The deviation of a tone between those that are told. */
export function sigmaAt(sigmas: readonly number[], encoded: number): number {
  const k = encoded < GRAIN_TONES[1] ? 0 : 1;
  const at = (encoded - GRAIN_TONES[k]) / (GRAIN_TONES[k + 1] - GRAIN_TONES[k]);
  return sigmas[k] + Math.min(1, Math.max(0, at)) * (sigmas[k + 1] - sigmas[k]);
}
