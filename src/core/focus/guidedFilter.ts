import { boxMean, type Field } from "../raster/boxMean";

/**
 * Smooths values along the edges of a guide, each value counting by its weight; where weights are nought the surroundings decide.
 * @param guide picture, same size @param epsilon variance of the guide below which it counts as flat
 * @see He, Sun, Tang 2010, "Guided image filtering", with weighted means in its equations 5 and 6
 */
export function weightedGuidedFilter(value: Field, weight: Float32Array, guide: Float32Array, radius: number, epsilon: number): Float32Array {
  const { width, height, data } = value;
  const mean = (of: (i: number) => number) => boxMean({ width, height, data: Float32Array.from(data, (_, i) => of(i)) }, radius);
  const w = mean((i) => weight[i] + TINY);
  const over = (of: (i: number) => number) => mean((i) => (weight[i] + TINY) * of(i)).map((v, i) => v / w[i]);
  const g = over((i) => guide[i]);
  const v = over((i) => data[i]);
  const gg = over((i) => guide[i] * guide[i]);
  const gv = over((i) => guide[i] * data[i]);
  const slope = gv.map((c, i) => (c - g[i] * v[i]) / (Math.max(0, gg[i] - g[i] * g[i]) + epsilon));
  // a window with much to go by counts more than one with little
  const trust = boxMean({ width, height, data: w }, radius);
  const blend = (of: (i: number) => number) => mean((i) => w[i] * of(i)).map((s, i) => s / trust[i]);
  const a = blend((i) => slope[i]);
  const b = blend((i) => v[i] - slope[i] * g[i]);
  return a.map((s, i) => s * guide[i] + b[i]);
}

/** Keeps divisions defined where nothing has weight. */
const TINY = 1e-6;
