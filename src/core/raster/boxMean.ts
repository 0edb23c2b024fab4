import type { Plane } from "./raster";

/** Mean over a square of (2 radius + 1)², cut off at the border. */
export function boxMean({ width, height, data }: Plane, radius: number): Float32Array {
  const across = new Float32Array(width * height);
  for (let y = 0; y < height; y++) meanAlong(data, across, y * width, width, radius);
  const out = new Float32Array(width * height);
  const sums = new Float64Array(width);
  for (let y = 0; y < Math.min(height, radius); y++) addRow(sums, across, y * width);
  for (let y = 0; y < height; y++) {
    if (y + radius < height) addRow(sums, across, (y + radius) * width);
    if (y > radius) takeRow(sums, across, (y - radius - 1) * width);
    const share = 1 / (Math.min(height - 1, y + radius) - Math.max(0, y - radius) + 1);
    const row = y * width;
    for (let x = 0; x < width; x++) out[row + x] = sums[x] * share;
  }
  return out;
}

/** Means along a row; the sum is carried on, so each sample costs the same however wide the mean. */
function meanAlong(data: Float32Array, out: Float32Array, row: number, width: number, radius: number): void {
  let sum = 0;
  for (let x = 0; x < Math.min(width, radius); x++) sum += data[row + x];
  const [left, right] = [Math.min(width, radius + 1), width - radius];
  let x = 0;
  for (; x < left; x++) {
    if (x + radius < width) sum += data[row + x + radius];
    out[row + x] = sum / (Math.min(width - 1, x + radius) + 1);
  }
  // here nothing is cut off
  const share = 1 / (2 * radius + 1);
  for (; x < right; x++) {
    sum += data[row + x + radius] - data[row + x - radius - 1];
    out[row + x] = sum * share;
  }
  for (; x < width; x++) {
    sum -= data[row + x - radius - 1];
    out[row + x] = sum / (width - x + radius);
  }
}

function addRow(sums: Float64Array, plane: Float32Array, row: number): void {
  for (let x = 0; x < sums.length; x++) sums[x] += plane[row + x];
}

function takeRow(sums: Float64Array, plane: Float32Array, row: number): void {
  for (let x = 0; x < sums.length; x++) sums[x] -= plane[row + x];
}
