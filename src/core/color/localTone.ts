import { boxMean } from "../raster/boxMean";
import type { Plane } from "../raster/raster";

/** Variance of log2 light below which a window counts as detail, EV². Common practice, no source. */
const DETAIL_VARIANCE = 0.2;

/** Base of log light as slope · own log light + offset, at a coarse size. */
export interface LocalBase {
  width: number;
  height: number;
  slope: Float32Array;
  offset: Float32Array;
}

/**
 * Parts log2 luminance into an even base that keeps the strong edges, and detail. The coefficients are smooth, so that they can be
 * found at a coarse size and used at any. @see He, Sun, Tang 2010, equations 5 to 8, the guide being the picture itself
 * @param radius of a window, samples
 */
export function localBase({ width, height, data }: Plane, radius: number): LocalBase {
  const mean = (values: Float32Array) => boxMean({ width, height, data: values }, radius);
  const average = mean(data);
  const squares = mean(data.map((v) => v * v));
  const slope = squares.map((s, i) => {
    const variance = Math.max(0, s - average[i] * average[i]);
    return variance / (variance + DETAIL_VARIANCE);
  });
  const offset = average.map((m, i) => m * (1 - slope[i]));
  return { width, height, slope: mean(slope), offset: mean(offset) };
}
