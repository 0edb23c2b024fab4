import { exp2 } from "../numeric/elementary";
import { boxMean } from "./boxMean";
import type { Plane } from "./raster";

/** Below this a blur is computed by its own weights, above by three boxes. */
export const SMALLEST_BOXED = 2;
/** Below this a blur changes nothing that shows. */
export const LEAST_SIGMA = 0.2;

/** Samples around a place that its blurred value depends on. */
export function blurReach(sigma: number): number {
  if (sigma < LEAST_SIGMA) return 0;
  return sigma < SMALLEST_BOXED ? Math.ceil(3 * sigma) : boxRadii(sigma).reduce((a, b) => a + b, 0);
}

/** Radii of three boxes whose variances add up to that of the Gaussian, as near as whole radii can. @see Wells 1986 */
export function boxRadii(sigma: number): number[] {
  const ideal = Math.sqrt((12 * sigma * sigma) / 3 + 1);
  const small = Math.floor((ideal - 1) / 2);
  const width = 2 * small + 1;
  // variance of a box of width w is (w² − 1) / 12
  const few = Math.round((12 * sigma * sigma - 3 * (width * width - 1)) / ((width + 2) ** 2 - width * width));
  return [0, 1, 2].map((i) => (i < few ? small + 1 : small));
}

/** Gaussian blur, weights cut off at the border and made to sum to one. @param sigma standard deviation, samples */
export function gaussianBlur(field: Plane, sigma: number): Float32Array {
  if (sigma < LEAST_SIGMA) return field.data;
  if (sigma >= SMALLEST_BOXED) return boxRadii(sigma).reduce((data, radius) => (radius ? boxMean({ ...field, data }, radius) : data), field.data);
  const weights = gaussianWeights(sigma);
  const { width, height } = field;
  return blurDown(blurAcross(field.data, width, height, weights), width, height, weights);
}

/** Weights of a Gaussian to three deviations on either side. */
export function gaussianWeights(sigma: number): Float64Array {
  const reach = Math.ceil(3 * sigma);
  return Float64Array.from({ length: 2 * reach + 1 }, (_, i) => exp2((-((i - reach) ** 2) * Math.LOG2E) / (2 * sigma * sigma)));
}

/** Along the rows; at the border the weights that are left are made to sum to one. */
function blurAcross(data: Float32Array, width: number, height: number, weights: Float64Array): Float32Array {
  const out = new Float32Array(data.length);
  const reach = (weights.length - 1) / 2;
  const totals = edgeTotals(width, weights);
  for (let y = 0; y < height; y++) {
    const row = y * width;
    for (let x = 0; x < width; x++) {
      const [from, to] = [Math.max(0, reach - x), Math.min(2 * reach, width - 1 - x + reach)];
      let sum = 0;
      for (let j = from, at = row + x - reach + from; j <= to; j++, at++) sum += weights[j] * data[at];
      out[row + x] = sum / totals[x];
    }
  }
  return out;
}

/** Down the columns, row by row as they lie in memory. */
function blurDown(data: Float32Array, width: number, height: number, weights: Float64Array): Float32Array {
  const out = new Float32Array(data.length);
  const reach = (weights.length - 1) / 2;
  const totals = edgeTotals(height, weights);
  const sums = new Float64Array(width);
  for (let y = 0; y < height; y++) {
    sums.fill(0);
    for (let j = Math.max(0, reach - y); j <= Math.min(2 * reach, height - 1 - y + reach); j++) {
      const [w, row] = [weights[j], (y - reach + j) * width];
      for (let x = 0; x < width; x++) sums[x] += w * data[row + x];
    }
    for (let x = 0; x < width; x++) out[y * width + x] = sums[x] / totals[y];
  }
  return out;
}

/** Sum of the weights that lie inside, for each place of a line. */
export function edgeTotals(count: number, weights: Float64Array): Float64Array {
  const reach = (weights.length - 1) / 2;
  return Float64Array.from({ length: count }, (_, k) => {
    let sum = 0;
    for (let j = Math.max(0, reach - k); j <= Math.min(2 * reach, count - 1 - k + reach); j++) sum += weights[j];
    return sum;
  });
}

/**
 * Guided filter: a plane follows the edges of a guide. @see He, Sun, Tang 2010, equations 5 to 8
 * @param guide @param plane same size @param radius of a window, samples @param epsilon variance of the guide that counts as even
 */
export function guidedFilter(guide: Plane, plane: Float32Array, radius: number, epsilon: number): Float32Array {
  const { slope, offset } = guidedCoefficients(guide, plane, radius, epsilon);
  return slope.map((v, i) => v * guide.data[i] + offset[i]);
}

/** The linear map from guide to plane at each sample, by which a plane is also carried to finer levels. @see He, Sun 2015, "Fast guided filter" */
export function guidedCoefficients(guide: Plane, plane: Float32Array, radius: number, epsilon: number): { slope: Float32Array; offset: Float32Array } {
  const mean = (data: Float32Array) => boxMean({ ...guide, data }, radius);
  const g = guide.data;
  const [meanG, meanM] = [mean(g), mean(plane)];
  const meanGM = mean(g.map((v, i) => v * plane[i]));
  const meanGG = mean(g.map((v) => v * v));
  const slope = meanGM.map((v, i) => (v - meanG[i] * meanM[i]) / (meanGG[i] - meanG[i] * meanG[i] + epsilon));
  const offset = meanM.map((v, i) => v - slope[i] * meanG[i]);
  return { slope: mean(slope), offset: mean(offset) };
}
