/** Rows and columns around a sample that are looked at. */
export const FRINGE_REACH = 6;
/** Radius in which the contrast of an edge is taken, px. */
const EDGE_RADIUS = 2;
/** Contrast from which an edge may carry a coloured line, and below which a neighbour counts as even, EV. Common practice, no source. */
const EDGE_EV = 2;
const EVEN_EV = 0.8;
/** How far a ratio of channels may go beyond what both sides show, EV. Common practice, no source. */
const TOLERANCE_EV = 0.22;
/** Even neighbours that have to be there on the darker and on the brighter side. */
const FEWEST = 16;

export interface FringeStrip {
  /** linear R, G, B of the frame's primaries, rows of width samples; changed in place */
  planes: [Float32Array, Float32Array, Float32Array];
  width: number;
  rows: number;
  /** rows at the top and bottom that are there to be looked at only */
  from: number;
  to: number;
}

/**
 * Takes coloured lines from along strong edges: the ratios R/G and B/G of a sample are brought back into the range that the even
 * surfaces on both sides of the edge show; luminance stays. A colour that one side has (the sky's) is inside that range and stays.
 * @param weights of R, G, B in luminance
 * @returns index of each changed sample, and its R, G, B before
 */
export function removeFringe(strip: FringeStrip, weights: readonly number[]): { index: number; before: [number, number, number] }[] {
  const { width, rows, from, to } = strip;
  const [r, g, b] = strip.planes;
  const n = width * rows;
  const light = new Float32Array(n);
  for (let i = 0; i < n; i++) light[i] = Math.max(1e-6, weights[0] * r[i] + weights[1] * g[i] + weights[2] * b[i]);
  const brightest = extremes(light, width, rows, EDGE_RADIUS, Math.max);
  const darkest = extremes(light, width, rows, EDGE_RADIUS, Math.min);
  const [steep, even] = [2 ** EDGE_EV, 2 ** EVEN_EV];
  const tolerance = 2 ** TOLERANCE_EV;
  const found: { index: number; before: [number, number, number] }[] = [];
  const changes: number[] = [];
  for (let y = from; y < to; y++) {
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      if (!(brightest[i] > steep * darkest[i]) || !(g[i] > 1e-6)) continue;
      const red = r[i] / g[i];
      const blue = b[i] / g[i];
      // geometric middle of the edge parts its sides
      const middle = Math.sqrt(brightest[i] * darkest[i]);
      let [lowRed, highRed, lowBlue, highBlue, above, below] = [Infinity, 0, Infinity, 0, 0, 0];
      const y1 = Math.min(rows - 1, y + FRINGE_REACH);
      const x0 = Math.max(0, x - FRINGE_REACH);
      const x1 = Math.min(width - 1, x + FRINGE_REACH);
      for (let v = Math.max(0, y - FRINGE_REACH); v <= y1; v++) {
        for (let j = v * width + x0; j <= v * width + x1; j++) {
          if (brightest[j] > even * darkest[j] || !(g[j] > 1e-6)) continue;
          if (light[j] > middle) above++;
          else below++;
          const p = r[j] / g[j];
          const q = b[j] / g[j];
          if (p < lowRed) lowRed = p;
          if (p > highRed) highRed = p;
          if (q < lowBlue) lowBlue = q;
          if (q > highBlue) highBlue = q;
        }
      }
      if (above < FEWEST || below < FEWEST) continue;
      const inRed = red > highRed * tolerance ? highRed : red * tolerance < lowRed ? lowRed : red;
      const inBlue = blue > highBlue * tolerance ? highBlue : blue * tolerance < lowBlue ? lowBlue : blue;
      if (inRed === red && inBlue === blue) continue;
      const green = light[i] / (weights[0] * inRed + weights[1] + weights[2] * inBlue);
      found.push({ index: i, before: [r[i], g[i], b[i]] });
      changes.push(green * inRed, green, green * inBlue);
    }
  }
  // after looking, so that no sample is judged by one that was changed
  found.forEach(({ index }, k) => strip.planes.forEach((plane, c) => (plane[index] = changes[k * 3 + c])));
  return found;
}

/** Largest or smallest value in a square around each sample. */
function extremes(plane: Float32Array, width: number, rows: number, radius: number, pick: (a: number, b: number) => number): Float32Array {
  const across = new Float32Array(plane.length);
  for (let y = 0; y < rows; y++) {
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      let v = plane[i];
      for (let u = Math.max(-x, -radius); u <= Math.min(width - 1 - x, radius); u++) v = pick(v, plane[i + u]);
      across[i] = v;
    }
  }
  const out = new Float32Array(plane.length);
  for (let y = 0; y < rows; y++) {
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      let v = across[i];
      for (let u = Math.max(-y, -radius); u <= Math.min(rows - 1 - y, radius); u++) v = pick(v, across[i + u * width]);
      out[i] = v;
    }
  }
  return out;
}
