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
  const { brightest, darkest } = extremes(light, width, rows);
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

/** Largest and smallest value in a square of EDGE_RADIUS around each sample; the border is repeated. */
function extremes(plane: Float32Array, width: number, rows: number): { brightest: Float32Array; darkest: Float32Array } {
  const n = plane.length;
  const [high, low] = [new Float32Array(n), new Float32Array(n)];
  for (let y = 0; y < rows; y++) {
    const row = y * width;
    for (let x = 0; x < width; x++) {
      const from = row + (x > EDGE_RADIUS ? x - EDGE_RADIUS : 0);
      const to = row + (x + EDGE_RADIUS < width ? x + EDGE_RADIUS : width - 1);
      let [most, least] = [plane[from], plane[from]];
      for (let i = from + 1; i <= to; i++) {
        const v = plane[i];
        if (v > most) most = v;
        if (v < least) least = v;
      }
      high[row + x] = most;
      low[row + x] = least;
    }
  }
  const [brightest, darkest] = [high.slice(), low.slice()];
  for (let d = 1; d <= EDGE_RADIUS; d++) {
    const by = d * width;
    for (let i = 0; i < n - by; i++) {
      if (high[i + by] > brightest[i]) brightest[i] = high[i + by];
      if (low[i + by] < darkest[i]) darkest[i] = low[i + by];
      if (high[i] > brightest[i + by]) brightest[i + by] = high[i];
      if (low[i] < darkest[i + by]) darkest[i + by] = low[i];
    }
  }
  return { brightest, darkest };
}
