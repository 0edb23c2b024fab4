/** Rows and columns around a sample that are looked at. */
export const FRINGE_REACH = 6;
/** Radius in which the contrast of an edge is taken, px. */
const EDGE_RADIUS = 2;
/** Contrast from which an edge may carry a coloured line, and below which a neighbour counts as even, EV. Common practice, no source. */
const EDGE_EV = 2;
const EVEN_EV = 0.8;
/** How far a ratio of channels may go beyond what both sides show, as a factor (0.22 EV). Common practice, no source. */
const TOLERANCE = 2 ** 0.22;
/** Even neighbours that have to be there on the darker and on the brighter side, and so on both together. */
const FEWEST = 16;
export const FEWEST_EVEN = 2 * FEWEST;

/** The same as ratios of the brightest to the darkest within EDGE_RADIUS, for whoever sorts the samples. */
export const EDGE_RATIO = 2 ** EDGE_EV;
export const EVEN_RATIO = 2 ** EVEN_EV;
/** Bits of the kind of a sample. */
export const EVEN = 1;
export const EDGE = 2;

export interface FringeStrip {
  /** linear R, G, B of the frame's primaries, rows of width samples */
  planes: readonly [Float32Array, Float32Array, Float32Array];
  /** luminance, above 0 */
  light: Float32Array;
  /** EDGE, EVEN or neither, for each sample; an edge with fewer than FEWEST_EVEN even samples within FRINGE_REACH may be left out */
  kinds: Uint8Array;
  width: number;
  rows: number;
  /** rows above and below these are there to be looked at only */
  from: number;
  to: number;
}

export interface FringeSample {
  index: number;
  before: [number, number, number];
  after: [number, number, number];
}

/**
 * Finds coloured lines along strong edges: the ratios R/G and B/G of a sample are brought back into the range that the even
 * surfaces on both sides of the edge show; luminance stays. A colour that one side has (the sky's) is inside that range and stays.
 * @param weights of R, G, B in luminance
 */
export function findFringe(strip: FringeStrip, weights: readonly number[]): FringeSample[] {
  const { width, from, to, kinds } = strip;
  const found: FringeSample[] = [];
  for (let y = from; y < to; y++) {
    const row = kinds.subarray(y * width, (y + 1) * width);
    for (let x = row.indexOf(EDGE); x >= 0; x = row.indexOf(EDGE, x + 1)) {
      const sample = judge(strip, weights, x, y);
      if (sample) found.push(sample);
    }
  }
  return found;
}

/** Steps to the samples looked at first: eight directions, far ones before near ones. */
const COMPASS = [6, 4, 2].flatMap((d) => [-d, 0, d].flatMap((dy) => [-d, 0, d].map((dx) => ({ dx, dy }))).filter(({ dx, dy }) => dx !== 0 || dy !== 0));

/** What one sample on an edge should be, or null where it may stay. */
function judge(strip: FringeStrip, weights: readonly number[], x: number, y: number): FringeSample | null {
  const {
    planes: [r, g, b],
    light,
    kinds,
    width,
    rows,
  } = strip;
  const index = y * width + x;
  if (!(g[index] > 1e-6)) return null;
  const red = r[index] / g[index];
  const blue = b[index] / g[index];
  let lowRed = Infinity;
  let highRed = 0;
  let lowBlue = Infinity;
  let highBlue = 0;
  const widen = (j: number) => {
    const p = r[j] / g[j];
    const q = b[j] / g[j];
    if (p < lowRed) lowRed = p;
    if (p > highRed) highRed = p;
    if (q < lowBlue) lowBlue = q;
    if (q > highBlue) highBlue = q;
  };
  const inside = () => red <= highRed * TOLERANCE && red * TOLERANCE >= lowRed && blue <= highBlue * TOLERANCE && blue * TOLERANCE >= lowBlue;
  // the range only widens, so that a few neighbours are enough to let most samples stay
  for (const { dx, dy } of COMPASS) {
    const u = x + dx;
    const v = y + dy;
    if (u < 0 || u >= width || v < 0 || v >= rows) continue;
    const j = v * width + u;
    if (kinds[j] !== EVEN || !(g[j] > 1e-6)) continue;
    widen(j);
    if (inside()) return null;
  }
  if (!hasTwoSides(strip, x, y)) return null;
  const x0 = Math.max(0, x - FRINGE_REACH);
  const x1 = Math.min(width - 1, x + FRINGE_REACH);
  for (let v = Math.max(0, y - FRINGE_REACH); v <= Math.min(rows - 1, y + FRINGE_REACH); v++) {
    for (let j = v * width + x0; j <= v * width + x1; j++) if (kinds[j] === EVEN && g[j] > 1e-6) widen(j);
    if (inside()) return null;
  }
  const inRed = red > highRed * TOLERANCE ? highRed : red * TOLERANCE < lowRed ? lowRed : red;
  const inBlue = blue > highBlue * TOLERANCE ? highBlue : blue * TOLERANCE < lowBlue ? lowBlue : blue;
  const green = light[index] / (weights[0] * inRed + weights[1] + weights[2] * inBlue);
  return { index, before: [r[index], g[index], b[index]], after: [green * inRed, green, green * inBlue] };
}

/** Whether there are enough even neighbours on the darker and on the brighter side of an edge. */
function hasTwoSides({ planes: [, g], light, kinds, width, rows }: FringeStrip, x: number, y: number): boolean {
  const middle = middleOf(light, width, rows, x, y);
  const x0 = Math.max(0, x - FRINGE_REACH);
  const x1 = Math.min(width - 1, x + FRINGE_REACH);
  let [above, below] = [0, 0];
  for (let v = Math.max(0, y - FRINGE_REACH); v <= Math.min(rows - 1, y + FRINGE_REACH); v++) {
    for (let j = v * width + x0; j <= v * width + x1; j++) {
      // nothing is there where no frame covers
      if (kinds[j] !== EVEN || !(g[j] > 1e-6)) continue;
      if (light[j] > middle) above++;
      else below++;
    }
    if (above >= FEWEST && below >= FEWEST) return true;
  }
  return false;
}

/** The geometric middle of the brightest and the darkest near a sample, which parts the sides of its edge. */
function middleOf(light: Float32Array, width: number, rows: number, x: number, y: number): number {
  let [most, least] = [0, Infinity];
  for (let v = Math.max(0, y - EDGE_RADIUS); v <= Math.min(rows - 1, y + EDGE_RADIUS); v++) {
    for (let u = Math.max(0, x - EDGE_RADIUS); u <= Math.min(width - 1, x + EDGE_RADIUS); u++) {
      const value = light[v * width + u];
      if (value > most) most = value;
      if (value < least) least = value;
    }
  }
  return Math.sqrt(most * least);
}
