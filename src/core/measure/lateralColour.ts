import { median, weightedMedian } from "../numeric/statistics";

/** How much larger a frame's red and blue pictures are than its green one, as shares of the distance from the middle. */
export interface LateralColour {
  red: number;
  blue: number;
}

/** The same as measured, with its standard error. */
export interface MeasuredLateral extends LateralColour {
  sigma: LateralColour;
}

/** A square of a frame with what lies around it, encoded 0..1. */
export interface ColourPatch {
  red: Float32Array;
  green: Float32Array;
  blue: Float32Array;
  /** side of all of it, samples; MARGIN of them at each side lie around the square */
  side: number;
  /** of the first sample against the frame's middle, samples */
  x: number;
  y: number;
}

export const MARGIN = 6;
/** Fewer places say nothing of a lens. */
const FEWEST = 12;
const PASSES = 4;
/** Codes below and above are clipped or crushed. */
const [DARKEST, BRIGHTEST] = [0.03, 0.97];
/** Share of a square's variation that green must explain for its edges to be the same in both colours. */
const LEAST_EXPLAINED = 0.85;
/** A colour in which green's edges are weaker than this says nothing. */
const LEAST_FACTOR = 0.2;

/**
 * Measures by how much red and blue are larger than green, from edges all over a frame: in each square the other colour is green times a
 * factor, plus an offset, plus a shift along the radius, by least squares (Lucas and Kanade 1981, in one direction), and the shifts of
 * all squares are one factor of the radius.
 * @returns null where too few squares hold edges that both colours show
 */
export function measureLateral(patches: readonly ColourPatch[]): MeasuredLateral | null {
  const red = measureChannel(patches, "red");
  const blue = measureChannel(patches, "blue");
  return red && blue && { red: red.scale, blue: blue.scale, sigma: { red: red.sigma, blue: blue.sigma } };
}

function measureChannel(patches: readonly ColourPatch[], channel: "red" | "blue"): { scale: number; sigma: number } | null {
  let scale = 0;
  let sigma = Infinity;
  for (let pass = 0; pass < PASSES; pass++) {
    const found = patches.flatMap((patch) => residualScale(patch, patch[channel], scale) ?? []);
    if (found.length < FEWEST) return null;
    const weights = found.map((f) => 1 / (f.variance + 1e-10));
    const middle = weightedMedian(
      found.map((f) => f.scale),
      weights,
    );
    scale += middle;
    // of a median of places whose spread is what it is, whatever each says of its own
    sigma = (1.2533 * 1.4826 * median(found.map((f) => Math.abs(f.scale - middle)))) / Math.sqrt(found.length);
    if (Math.abs(middle) < 1e-6) break;
  }
  return { scale, sigma };
}

/** What a square says of the scale that is left when a colour is brought to `scale`; null where it says nothing. */
function residualScale({ green, side, x: left, y: top }: ColourPatch, colour: Float32Array, scale: number): { scale: number; variance: number } | null {
  // normal equations of colour = a · green + b + e · (p · ∇), p from the middle
  let n = 0;
  let gg = 0;
  let g1 = 0;
  let gr = 0;
  let rr = 0;
  let r1 = 0;
  let cg = 0;
  let cr = 0;
  let c1 = 0;
  let cc = 0;
  for (let y = MARGIN; y < side - MARGIN; y++) {
    for (let x = MARGIN; x < side - MARGIN; x++) {
      const i = y * side + x;
      const g = green[i];
      const px = left + x;
      const py = top + y;
      const c = sampleAt(colour, side, x + px * scale, y + py * scale);
      if (!(g > DARKEST && g < BRIGHTEST && c > DARKEST && c < BRIGHTEST)) continue;
      const r = (px * (green[i + 1] - green[i - 1]) + py * (green[i + side] - green[i - side])) / 2;
      n++;
      gg += g * g;
      g1 += g;
      gr += g * r;
      rr += r * r;
      r1 += r;
      cg += c * g;
      cr += c * r;
      c1 += c;
      cc += c * c;
    }
  }
  if (n < (side - 2 * MARGIN) ** 2 / 2) return null;
  const m = Float64Array.of(gg, g1, gr, g1, n, r1, gr, r1, rr);
  const v = [cg, c1, cr];
  const inverse = invertSymmetric(m);
  if (!inverse) return null;
  const solved = [0, 1, 2].map((j) => inverse[3 * j] * v[0] + inverse[3 * j + 1] * v[1] + inverse[3 * j + 2] * v[2]);
  const [a, , e] = solved;
  const unexplained = Math.max(0, cc - solved.reduce((sum, q, j) => sum + q * v[j], 0));
  if (!(a > LEAST_FACTOR) || !(unexplained < (1 - LEAST_EXPLAINED) * (cc - (c1 * c1) / n))) return null;
  return { scale: -e / a, variance: ((unexplained / n) * inverse[8]) / (a * a) };
}

function sampleAt(plane: Float32Array, side: number, x: number, y: number): number {
  const u = Math.floor(x);
  const w = Math.floor(y);
  if (u < 0 || w < 0 || u + 1 >= side || w + 1 >= side) return NaN;
  const s = x - u;
  const t = y - w;
  const i = w * side + u;
  return (plane[i] * (1 - s) + plane[i + 1] * s) * (1 - t) + (plane[i + side] * (1 - s) + plane[i + side + 1] * s) * t;
}

/** Inverse of a symmetric 3×3 matrix; null where it has none. */
function invertSymmetric(m: Float64Array): Float64Array | null {
  const [a, b, c, , d, e, , , f] = m;
  const [A, B, C] = [d * f - e * e, c * e - b * f, b * e - c * d];
  const det = a * A + b * B + c * C;
  if (!(Math.abs(det) > 1e-12 * a * d * f)) return null;
  const [E, F, G] = [a * f - c * c, b * c - a * e, a * d - b * b];
  return Float64Array.of(A, B, C, B, E, F, C, F, G).map((q) => q / det);
}
