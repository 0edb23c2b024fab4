import { quantile } from "../numeric/statistics";
import type { Filters } from "../raster/filters";

/** The colour of the light that a picture was taken in, as far as the picture tells. */
export interface Illuminant {
  /** red, green and blue of what is neutral in it, linear, green 1 */
  rgb: [number, number, number];
  /** how far the colours it is told by, and those next to them, lie apart, degrees */
  spreadDeg: number;
  /** 0..1 */
  confidence: number;
}

/** Light that tells no colour: clipped, or lost in noise. */
const [CLIPPED, DARK] = [0.97, 0.004];
/** Half of the side over which greyness is meant, samples; and the share of all that is taken for grey. @see Qian et al. 2019, 7 × 7 and 0.1 % */
const AROUND = 3;
const GREYEST = 0.001;
const FEWEST_GREY = 30;
/** What else it is held against: so many times as many. */
const WIDER = 10;
/** Where no contrast reaches that, there is nothing to compare. @see Qian et al. 2019 */
const FLAT = 1e-4;
/** Contrast that is no longer told from other. */
const UNLIKE = 1;
/** Colours that lie so far apart tell half as much, degrees. By fifteen photographs under casts. */
const HALF_DEG = 5;
/** Fewer samples tell nothing. */
const FEWEST = 400;

/**
 * The light of a picture, by what is greyest in it: where contrast in red, green and blue is the same on a log scale, only the light gives a colour.
 * @param planes linear red, green and blue @returns null where too little is lit well
 * @see Qian, Kämäräinen, Nikkanen, Matas 2019 (grayness index; recalled from memory)
 */
export function estimateIlluminant(planes: readonly Float32Array[], width: number, height: number, { boxMean }: Pick<Filters, "boxMean">): Illuminant | null {
  const n = width * height;
  const [red, green, blue] = planes;
  const logOf = (v: number) => Math.log(v > DARK / 4 ? v : DARK / 4);
  const [redness, blueness, all] = [new Float32Array(n), new Float32Array(n), new Float32Array(n)];
  for (let i = 0; i < n; i++) {
    all[i] = logOf(red[i] + green[i] + blue[i]);
    redness[i] = logOf(red[i]) - all[i];
    blueness[i] = logOf(blue[i]) - all[i];
  }
  const isLit = (i: number): boolean => red[i] < CLIPPED && green[i] < CLIPPED && blue[i] < CLIPPED && red[i] > DARK && green[i] > DARK && blue[i] > DARK;
  const contrast = (field: Float32Array, i: number): number => 4 * field[i] - field[i - 1] - field[i + 1] - field[i - width] - field[i + width];
  const greyness = new Float32Array(n).fill(UNLIKE);
  const told: number[] = [];
  for (let y = 1; y < height - 1; y++) {
    for (let x = 1; x < width - 1; x++) {
      const i = y * width + x;
      if (!isLit(i) || Math.abs(contrast(all, i)) < FLAT) continue;
      const [r, b] = [contrast(redness, i), contrast(blueness, i)];
      greyness[i] = Math.min(UNLIKE, Math.sqrt(r * r + b * b));
      told.push(i);
    }
  }
  if (told.length < FEWEST) return null;
  const around = boxMean({ width, height, data: greyness }, AROUND);
  const sorted = Float32Array.from(told, (i) => around[i]).sort();
  const greyest = (share: number): number[] => {
    const limit = sorted[Math.min(sorted.length - 1, Math.max(FEWEST_GREY, Math.round(share * n)))];
    return told.filter((i) => around[i] <= limit);
  };
  /** Each weighs as much, however bright it is. */
  const meanOf = (at: readonly number[]): number[] => {
    const sum = [0, 0, 0];
    for (const i of at) {
      const light = red[i] + green[i] + blue[i];
      sum[0] += red[i] / light;
      sum[1] += green[i] / light;
      sum[2] += blue[i] / light;
    }
    return sum;
  };
  const at = greyest(GREYEST);
  const grey = meanOf(at);
  const within = quantile(
    at.map((i) => angleBetween([red[i], green[i], blue[i]], grey)),
    0.8,
  );
  const spreadDeg = Math.hypot(within, angleBetween(grey, meanOf(greyest(WIDER * GREYEST))));
  return { rgb: [grey[0] / grey[1], 1, grey[2] / grey[1]], spreadDeg, confidence: 1 / (1 + (spreadDeg / HALF_DEG) ** 2) };
}

/** Angle between two colours as directions, degrees: how errors of an estimated light are told. */
export function angleBetween(a: readonly number[], b: readonly number[]): number {
  const dot = a.reduce((s, v, i) => s + v * b[i], 0) / (Math.hypot(...a) * Math.hypot(...b));
  return (Math.acos(Math.min(1, dot)) * 180) / Math.PI;
}
