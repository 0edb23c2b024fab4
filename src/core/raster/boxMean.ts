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
