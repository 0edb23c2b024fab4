/** A plane of values, rows one after the other. */
export interface Field {
  width: number;
  height: number;
  data: Float32Array;
}

/** Mean over a square of (2 radius + 1)², cut off at the border. */
export function boxMean({ width: w, height: h, data }: Field, radius: number): Float32Array {
  const across = new Float32Array(w * h);
  for (let y = 0; y < h; y++) {
    let sum = 0;
    const row = y * w;
    for (let x = 0; x < Math.min(w, radius); x++) sum += data[row + x];
    for (let x = 0; x < w; x++) {
      if (x + radius < w) sum += data[row + x + radius];
      if (x - radius - 1 >= 0) sum -= data[row + x - radius - 1];
      across[row + x] = sum / (Math.min(w - 1, x + radius) - Math.max(0, x - radius) + 1);
    }
  }
  const out = new Float32Array(w * h);
  const sums = new Float64Array(w);
  for (let y = 0; y < Math.min(h, radius); y++) for (let x = 0; x < w; x++) sums[x] += across[y * w + x];
  for (let y = 0; y < h; y++) {
    if (y + radius < h) for (let x = 0, i = (y + radius) * w; x < w; x++, i++) sums[x] += across[i];
    if (y - radius - 1 >= 0) for (let x = 0, i = (y - radius - 1) * w; x < w; x++, i++) sums[x] -= across[i];
    const rows = Math.min(h - 1, y + radius) - Math.max(0, y - radius) + 1;
    for (let x = 0; x < w; x++) out[y * w + x] = sums[x] / rows;
  }
  return out;
}

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
