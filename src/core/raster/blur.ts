import { exp2 } from "../numeric/elementary";
import { boxMean, type Field } from "./boxMean";

/** Below this a blur is computed by its own weights, above by three boxes. */
const SMALLEST_BOXED = 2;
/** Below this a blur changes nothing that shows. */
const LEAST_SIGMA = 0.2;

/** Samples around a place that its blurred value depends on. */
export function blurReach(sigma: number): number {
  if (sigma < LEAST_SIGMA) return 0;
  return sigma < SMALLEST_BOXED ? Math.ceil(3 * sigma) : boxRadii(sigma).reduce((a, b) => a + b, 0);
}

/** Radii of three boxes whose variances add up to that of the Gaussian, as near as whole radii can. @see Wells 1986 */
function boxRadii(sigma: number): number[] {
  const ideal = Math.sqrt((12 * sigma * sigma) / 3 + 1);
  const small = Math.floor((ideal - 1) / 2);
  const width = 2 * small + 1;
  // variance of a box of width w is (w² − 1) / 12
  const few = Math.round((12 * sigma * sigma - 3 * (width * width - 1)) / ((width + 2) ** 2 - width * width));
  return [0, 1, 2].map((i) => (i < few ? small + 1 : small));
}

/** Gaussian blur, weights cut off at the border and made to sum to one. @param sigma standard deviation, samples */
export function gaussianBlur(field: Field, sigma: number): Float32Array {
  if (sigma < LEAST_SIGMA) return field.data;
  if (sigma >= SMALLEST_BOXED) return boxRadii(sigma).reduce((data, radius) => (radius ? boxMean({ ...field, data }, radius) : data), field.data);
  const reach = Math.ceil(3 * sigma);
  const weights = Float64Array.from({ length: 2 * reach + 1 }, (_, i) => exp2((-((i - reach) ** 2) * Math.LOG2E) / (2 * sigma * sigma)));
  const { width, height } = field;
  const across = pass(field.data, width, height, 1, width, weights);
  return pass(across, height, width, width, 1, weights);
}

/** One direction: `count` samples `step` apart along a line, lines `next` apart. */
function pass(data: Float32Array, count: number, lines: number, step: number, next: number, weights: Float64Array): Float32Array {
  const out = new Float32Array(data.length);
  const reach = (weights.length - 1) / 2;
  const all = weights.reduce((a, b) => a + b, 0);
  for (let line = 0; line < lines; line++) {
    const start = line * next;
    for (let k = 0; k < count; k++) {
      const inside = k >= reach && k + reach < count;
      const [from, to] = inside ? [0, weights.length - 1] : [Math.max(0, reach - k), Math.min(2 * reach, count - 1 - k + reach)];
      let sum = 0;
      let total = inside ? all : 0;
      let at = start + (k - reach + from) * step;
      for (let j = from; j <= to; j++, at += step) {
        sum += weights[j] * data[at];
        if (!inside) total += weights[j];
      }
      out[start + k * step] = sum / total;
    }
  }
  return out;
}

/**
 * Guided filter: a plane follows the edges of a guide. @see He, Sun, Tang 2010, equations 5 to 8
 * @param guide @param plane same size @param radius of a window, samples @param epsilon variance of the guide that counts as even
 */
export function guidedFilter(guide: Field, plane: Float32Array, radius: number, epsilon: number): Float32Array {
  const mean = (data: Float32Array) => boxMean({ ...guide, data }, radius);
  const g = guide.data;
  const [meanG, meanM] = [mean(g), mean(plane)];
  const meanGM = mean(g.map((v, i) => v * plane[i]));
  const meanGG = mean(g.map((v) => v * v));
  const slope = meanGM.map((v, i) => (v - meanG[i] * meanM[i]) / (meanGG[i] - meanG[i] * meanG[i] + epsilon));
  const offset = meanM.map((v, i) => v - slope[i] * meanG[i]);
  const [meanSlope, meanOffset] = [mean(slope), mean(offset)];
  return meanSlope.map((v, i) => v * g[i] + meanOffset[i]);
}
