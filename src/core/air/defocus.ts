/** How a thing is out of focus and has moved, px of the picture: radius of the disc that a point becomes, and how far and which way it went, degrees clockwise from the right. */
export interface Defocus {
  radiusPx: number;
  motionPx: number;
  motionDeg: number;
}

/** Samples around a place that are looked at, at a level. */
export const defocusReach = ({ radiusPx, motionPx }: Defocus, level: number): number => Math.ceil((radiusPx + motionPx / 2) / 2 ** level) + 2;

/** Less than that is sharp, samples. */
const SHARP = 0.2;

/** Lines of a row of samples along which a disc is measured. */
const PARTS = 8;

/** Spreads every sample evenly over a disc, in place; what lies outside is 0. Planes of light and of alpha, multiplied by that. */
export function discBlur(plane: Float32Array, width: number, height: number, radius: number): void {
  if (radius < SHARP) return;
  // a sample is itself half of one to either side
  const r = Math.max(radius, 0.5);
  const rows = Math.ceil(r + 0.5) - 1;
  // how much of each row the disc covers, samples
  const lengths = Array.from({ length: 2 * rows + 1 }, (_, k) => {
    let sum = 0;
    for (let part = 0; part < PARTS; part++) sum += 2 * Math.sqrt(Math.max(0, r * r - (k - rows - 0.5 + (part + 0.5) / PARTS) ** 2));
    return sum / PARTS;
  });
  const total = lengths.reduce((sum, length) => sum + length, 0);
  const sums = new Float64Array((width + 1) * height);
  for (let y = 0; y < height; y++) {
    let sum = 0;
    for (let x = 0; x < width; x++) {
      sum += plane[y * width + x];
      sums[y * (width + 1) + x + 1] = sum;
    }
  }
  // row by row of the disc, so that what is read lies side by side
  const row = new Float64Array(width);
  for (let y = 0; y < height; y++) {
    row.fill(0);
    for (let k = 0; k < lengths.length; k++) {
      const v = y + k - rows;
      if (v < 0 || v >= height) continue;
      addSpan(row, sums, v * (width + 1), width, lengths[k]);
    }
    for (let x = 0; x < width; x++) plane[y * width + x] = row[x] / total;
  }
}

/** Adds to each sample what lies in a span around it, of a row whose sums begin at a place. */
function addSpan(row: Float64Array, sums: Float64Array, at: number, width: number, length: number): void {
  const beside = (length - 1) / 2;
  if (beside <= 0) {
    for (let x = 0; x < width; x++) row[x] += length * (sums[at + x + 1] - sums[at + x]);
    return;
  }
  const whole = Math.floor(beside);
  const part = beside - whole;
  const rim = (x: number): number => {
    const [left, right] = [x - whole, x + whole + 1];
    let sum = sums[at + Math.min(width, right)] - sums[at + Math.max(0, left)];
    if (left - 1 >= 0) sum += part * (sums[at + left] - sums[at + left - 1]);
    if (right < width) sum += part * (sums[at + right + 1] - sums[at + right]);
    return sum;
  };
  const [from, to] = [Math.min(width, whole + 1), Math.max(0, width - whole - 1)];
  for (let x = 0; x < Math.min(from, width); x++) row[x] += rim(x);
  for (let x = from; x < to; x++) {
    const left = at + x - whole;
    const right = at + x + whole + 1;
    row[x] += sums[right] - sums[left] + part * (sums[left] - sums[left - 1]) + part * (sums[right + 1] - sums[right]);
  }
  for (let x = Math.max(from, to); x < width; x++) row[x] += rim(x);
}

/** Spreads every sample evenly along a line, in place; what lies outside is 0. */
export function lineBlur(plane: Float32Array, width: number, height: number, length: number, degrees: number): void {
  if (length < SHARP) return;
  const [dx, dy] = [Math.cos((degrees * Math.PI) / 180), Math.sin((degrees * Math.PI) / 180)];
  const taps = Math.max(2, Math.ceil(length) + 1);
  const source = plane.slice();
  const at = (x: number, y: number): number => (x < 0 || y < 0 || x >= width || y >= height ? 0 : source[y * width + x]);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      let sum = 0;
      for (let t = 0; t < taps; t++) {
        const way = ((t + 0.5) / taps - 0.5) * length;
        const [u, v] = [x + way * dx, y + way * dy];
        const [i, j] = [Math.floor(u), Math.floor(v)];
        const [a, b] = [u - i, v - j];
        sum += (at(i, j) * (1 - a) + at(i + 1, j) * a) * (1 - b) + (at(i, j + 1) * (1 - a) + at(i + 1, j + 1) * a) * b;
      }
      plane[y * width + x] = sum / taps;
    }
  }
}

/** Width of an edge that a disc makes of a step, from a tenth to nine tenths as `measureEdgeWidth` tells it: its steepest slope is 2 over π radii. */
const WIDTH_OF_RADIUS = ((2.563 / 2.507) * Math.PI) / 2;

/** Width that a sharp step is told to have, which is that of a sample. */
const SAMPLED = 2.563 / 2.507;

/** The disc that brings edges of a width to another; null where they are wider already, by more than a tenth. Widths add as their squares, but for what sampling makes of both. */
export function radiusBetween(ownPx: number, wantedPx: number): number | null {
  if (ownPx > 1.1 * wantedPx) return null;
  if (ownPx >= wantedPx) return 0;
  const soft = Math.max(0, ownPx * ownPx - SAMPLED * SAMPLED);
  return Math.sqrt(wantedPx * wantedPx - soft) / WIDTH_OF_RADIUS;
}
