import { solveSymmetric } from "../numeric/linearSystem";
import { median } from "../numeric/statistics";

/** The same place seen by two frames: squared distances from their centres in half-diagonals, and how much brighter a sees it, EV a channel. */
export interface LightTie {
  a: number;
  b: number;
  ra2: number;
  rb2: number;
  ev: [number, number, number];
}

/** What makes the frames of a panorama meet in light. */
export interface EvenLight {
  /** EV by which each frame is brighter than the mean of all, a channel */
  gainEv: [number, number, number][];
  /** falloff of all frames, EV at r², r⁴ and r⁶, r in half-diagonals */
  falloff: [number, number, number];
}

/** EV that a frame is brighter at a place than an even one would be. */
export const falloffAt = ([a, b, c]: EvenLight["falloff"], r2: number): number => r2 * (a + r2 * (b + r2 * c));

const TERMS = 3;
/** Standard deviations assumed of what overlaps do not tell, EV. Common practice, no source. */
const GAIN_SD = 2;
const FALLOFF_SD = 1;
/** Spread of a single place, EV, while nothing is known. */
const NOISE_SD = 0.05;

/**
 * Gains of all frames and one falloff so that overlaps agree: linear least squares in EV, made robust by weights.
 * @param count frames @param ties places of all overlaps
 * @see Goldman 2010, "Vignette and exposure calibration and compensation" (an even polynomial in the radius)
 */
export function evenLight(count: number, ties: LightTie[]): EvenLight {
  const gainEv = Array.from({ length: count }, (): [number, number, number] => [0, 0, 0]);
  if (ties.length < 10) return { gainEv, falloff: [0, 0, 0] };
  // the falloff from all channels, then each channel's gains under it
  const mean = solve(count, ties, (t) => (t.ev[0] + t.ev[1] + t.ev[2]) / 3, null);
  for (let c = 0; c < 3; c++) solve(count, ties, (t) => t.ev[c], mean.falloff).gains.forEach((g, i) => (gainEv[i][c] = g));
  return { gainEv, falloff: mean.falloff };
}

function solve(count: number, ties: LightTie[], evOf: (t: LightTie) => number, known: EvenLight["falloff"] | null) {
  const n = count + (known ? 0 : TERMS);
  let weights: Float64Array = new Float64Array(ties.length).fill(1);
  let x: Float64Array = new Float64Array(n);
  let sd = NOISE_SD;
  const values = ties.map((t) => evOf(t) - (known ? falloffAt(known, t.ra2) - falloffAt(known, t.rb2) : 0));
  const powers = ties.map((t) => [t.ra2 - t.rb2, t.ra2 ** 2 - t.rb2 ** 2, t.ra2 ** 3 - t.rb2 ** 3]);
  for (let pass = 0; pass < 8; pass++) {
    const normal = new Float64Array(n * n);
    const right = new Float64Array(n);
    for (let i = 0; i < n; i++) normal[i * n + i] = (sd * sd) / (i < count ? GAIN_SD : FALLOFF_SD) ** 2;
    ties.forEach((t, k) => {
      const w = weights[k];
      const columns: [number, number][] = [[t.a, 1], [t.b, -1], ...(known ? [] : powers[k].map((v, p): [number, number] => [count + p, v]))];
      for (const [i, vi] of columns) {
        right[i] += w * vi * values[k];
        for (const [j, vj] of columns) normal[i * n + j] += w * vi * vj;
      }
    });
    x = solveSymmetric(normal, right) ?? x;
    const left = ties.map((t, k) => values[k] - x[t.a] + x[t.b] - (known ? 0 : powers[k].reduce((sum, v, p) => sum + v * x[count + p], 0)));
    sd = Math.max(0.004, 1.4826 * median(left.map(Math.abs)));
    weights = Float64Array.from(left, (e) => 1 / (1 + (e / (2.4 * sd)) ** 2));
  }
  const gains = [...x.subarray(0, count)];
  const middle = gains.reduce((sum, g) => sum + g, 0) / count;
  return { gains: gains.map((g) => g - middle), falloff: known ?? ([x[count], x[count + 1], x[count + 2]] as EvenLight["falloff"]) };
}
