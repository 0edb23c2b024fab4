import type { Plane } from "../raster/raster";
import type { Filters } from "../raster/filters";
import { mapFloats } from "../numeric/mapFloats";

/**
 * Smooths values along the edges of a guide, each value counting by its weight; where weights are nought the surroundings decide.
 * @param guide picture, same size @param how radius of a window, and the variance of the guide below which it counts as flat
 * @param pause comes between its parts, so that others get their turn and it can be stopped
 * @see He, Sun, Tang 2010, "Guided image filtering", with weighted means in its equations 5 and 6
 */
export async function weightedGuidedFilter(
  { width, height, data }: Plane,
  weight: Float32Array,
  guide: Float32Array,
  { radius, epsilon }: { radius: number; epsilon: number },
  pause: () => Promise<void>,
  { boxMean }: Filters,
): Promise<Float32Array> {
  const mean = async (of: (i: number) => number) => {
    await pause();
    return boxMean({ width, height, data: mapFloats(data, (_, i) => of(i)) }, radius);
  };
  const w = await mean((i) => weight[i] + TINY);
  const over = async (of: (i: number) => number) => (await mean((i) => (weight[i] + TINY) * of(i))).map((v, i) => v / w[i]);
  const g = await over((i) => guide[i]);
  const v = await over((i) => data[i]);
  const gg = await over((i) => guide[i] * guide[i]);
  const gv = await over((i) => guide[i] * data[i]);
  const slope = gv.map((c, i) => (c - g[i] * v[i]) / (Math.max(0, gg[i] - g[i] * g[i]) + epsilon));
  // a window with much to go by counts more than one with little
  const trust = boxMean({ width, height, data: w }, radius);
  const blend = async (of: (i: number) => number) => (await mean((i) => w[i] * of(i))).map((s, i) => s / trust[i]);
  const a = await blend((i) => slope[i]);
  const b = await blend((i) => v[i] - slope[i] * g[i]);
  return a.map((s, i) => s * guide[i] + b[i]);
}

/** Keeps divisions defined where nothing has weight. */
const TINY = 1e-6;
