import { exp2, log2 } from "../numeric/elementary";
import { solveSymmetric } from "../numeric/linearSystem";
import type { HazePlace } from "./hazePlaces";

/** Air between a camera and what it sees, red, green and blue: the linear light it shines with, and how much of what lies behind it each metre hides. */
export interface Air {
  color: number[];
  /** 1/m: exp(−perM · distance) of the light comes through */
  perM: number[];
}

/** What is known of air before anything is measured: what shows where one sees farthest, linear, and how far off the air's own light may be from that, ln. */
export interface Horizon {
  light: readonly number[];
  sigma: number;
}

/** How dark dark things are where nothing tells, of the air's light, and how far off that may be, ln. Common practice, no source. */
const [DARKEST, DARKEST_SIGMA] = [0.05, 1.5];
/** Air hides light as wavelength^−α: α is near 0 in mist, 4 in the clearest air, about 1.3 in haze. @see Ångström 1929 (recalled from memory) */
const [EXPONENT, EXPONENT_SIGMA] = [1.3, 0.6];
/** ln of the middle wavelengths of red, green and blue against green: 610, 545 and 465 nm. Common practice, no source. */
const LN_WAVE = [610, 545, 465].map((nm) => Math.log(nm / 545));
/** A place that is off by more than that, ln, counts less and less: it is nearer than it was taken to be, or has nothing dark. */
const ODD = 0.25;
/** What is lighter than other places as far away counts so much: more often nothing dark stands there than the air is thicker. */
const LIGHTER = 0.3;
/** What all places together weigh beside what is known before. */
const SAYS = 400;
/** Distances that the density is looked for from, m, and how much distances have to spread to tell it. */
const STARTS_M = [20, 80, 300];
const LEAST_SPREAD = 1.5;
/** How much lighter the farthest dark has to be than the nearest, times, for that to tell anything of the air. */
const LEAST_RISE = 1.15;
const LEAST = 1e-5;
const BANDS = 20;
const ENOUGH = 8;
const [STEPS, TINY_STEP, DONE] = [40, 1e-4, 1e-7];

const exp = (x: number): number => exp2(Math.max(-1000, Math.min(1000, x / Math.LN2)));
const ln = (x: number): number => log2(Math.max(LEAST, x)) * Math.LN2;

/**
 * Light and density of air by the dark of places whose distance is known: what is equally dark is the lighter the farther it is, I = A − (A − J) e^(−βd).
 * Places that disagree are outweighed by the others. @see Koschmieder 1924
 * @returns null where fewer than three places tell, their distances are too alike, or what is far is hardly lighter than what is near
 */
export function fitHaze(places: readonly HazePlace[], horizon: Horizon): Air | null {
  const told = places.filter(({ distanceM, light }) => distanceM > 0 && Number.isFinite(distanceM) && light.some((v) => v > LEAST));
  const distances = told.map((p) => p.distanceM);
  if (told.length < 3 || Math.max(...distances) < LEAST_SPREAD * Math.min(...distances)) return null;
  const fit = new HazeFit(told, horizon);
  const found = STARTS_M.flatMap((metres) => fit.from(metres) ?? []);
  if (found.length === 0) return null;
  const { color, darkest, perM } = fit.airOf(found.reduce((best, next) => (next.cost < best.cost ? next : best)).p);
  const dark = (metres: number) => color[1] - (color[1] - darkest[1]) * exp(-perM[1] * metres);
  return dark(Math.max(...distances)) < LEAST_RISE * dark(Math.min(...distances)) ? null : { color, perM };
}

/** Each band of distances says as much as every other, as far as it holds enough. */
function evenByDistance(places: readonly HazePlace[]): number[] {
  const logs = places.map((p) => Math.log(p.distanceM));
  const [from, to] = [Math.min(...logs), Math.max(...logs)];
  const bandOf = (log: number) => Math.min(BANDS - 1, Math.floor((BANDS * (log - from)) / (to - from)));
  const counts = new Array<number>(BANDS).fill(0);
  for (const log of logs) counts[bandOf(log)]++;
  const enough = Math.min(ENOUGH, places.length / BANDS + 1);
  const weights = logs.map((log, i) => places[i].times / Math.max(enough, counts[bandOf(log)]));
  const sum = weights.reduce((a, b) => a + b, 0);
  return weights.map((w) => (SAYS * w) / sum);
}

/** The unknowns, in ln: the air's light and the dark of things against the horizon's, three each; the density of green; and, plain, the exponent α. */
class HazeFit {
  private readonly seen: number[];
  private readonly weights: number[];
  /** of each unknown: 1/σ² */
  private readonly known: number[];

  constructor(
    private readonly places: readonly HazePlace[],
    private readonly horizon: Horizon,
  ) {
    this.seen = places.flatMap(({ light }) => light.map(ln));
    this.weights = evenByDistance(places);
    this.known = [horizon.sigma, horizon.sigma, horizon.sigma, DARKEST_SIGMA, DARKEST_SIGMA, DARKEST_SIGMA, Infinity, EXPONENT_SIGMA].map((s) => s ** -2);
  }

  airOf(p: readonly number[]): Air & { darkest: number[] } {
    const { light } = this.horizon;
    return {
      color: light.map((v, c) => v * exp(p[c])),
      darkest: light.map((v, c) => v * exp(p[3 + c])),
      perM: LN_WAVE.map((wave) => exp(p[6] - p[7] * wave)),
    };
  }

  /** Levenberg's damped steps, each place weighed by how well it agrees as a whole. */
  from(metres: number): { cost: number; p: number[] } | null {
    const start = [0, 0, 0, ...Array<number>(3).fill(Math.log(DARKEST)), -Math.log(metres), EXPONENT];
    let p = start;
    let cost = this.costOf(p, start);
    let damping = 1e-3;
    for (let step = 0; step < STEPS && damping < 1e8; step++) {
      const change = this.change(p, start, damping);
      if (!change) return null;
      const next = p.map((v, k) => v + Math.max(-1, Math.min(1, change[k])));
      const nextCost = this.costOf(next, start);
      if (!(nextCost < cost)) {
        damping *= 6;
        continue;
      }
      const isDone = cost - nextCost < DONE * cost;
      [p, cost, damping] = [next, nextCost, damping / 4];
      if (isDone) break;
    }
    return Number.isFinite(cost) ? { cost, p } : null;
  }

  /** ln of what each place is off by, three a place. */
  private residuals(p: readonly number[]): Float64Array {
    const { color, darkest, perM } = this.airOf(p);
    const out = new Float64Array(this.seen.length);
    this.places.forEach(({ distanceM }, i) => {
      for (let c = 0; c < 3; c++) out[3 * i + c] = this.seen[3 * i + c] - ln(color[c] - (color[c] - darkest[c]) * exp(-perM[c] * distanceM));
    });
    return out;
  }

  /** How much a place counts, and by how much it is off as a whole, of what counts as odd, squared. */
  private trust(residuals: Float64Array, i: number): { weight: number; odd: number } {
    const off = (residuals[3 * i] + residuals[3 * i + 1] + residuals[3 * i + 2]) / 3;
    return { weight: this.weights[i] * (off > 0 ? LIGHTER : 1), odd: (off / ODD) ** 2 };
  }

  private costOf(p: readonly number[], start: readonly number[]): number {
    const off = this.residuals(p);
    let cost = 0;
    for (let i = 0; i < this.places.length; i++) {
      const { weight, odd } = this.trust(off, i);
      let square = 0;
      for (let c = 0; c < 3; c++) square += off[3 * i + c] ** 2;
      const apart = square / (3 * ODD * ODD) - odd;
      cost += weight * (ln(1 + odd) + apart / (1 + odd));
    }
    return this.known.reduce((sum, w, k) => sum + w * (p[k] - start[k]) ** 2, cost);
  }

  private change(p: readonly number[], start: readonly number[], damping: number): Float64Array | null {
    const off = this.residuals(p);
    const slopes = p.map((v, k) => {
      const moved = this.residuals(p.map((w, j) => (j === k ? v + TINY_STEP : w)));
      return moved.map((m, i) => (off[i] - m) / TINY_STEP);
    });
    const n = p.length;
    const normal = new Float64Array(n * n);
    const right = new Float64Array(n);
    for (let i = 0; i < this.places.length; i++) {
      const { weight, odd } = this.trust(off, i);
      const w = weight / (3 * ODD * ODD * (1 + odd));
      for (let k = 3 * i; k < 3 * i + 3; k++) {
        for (let a = 0; a < n; a++) {
          right[a] += w * slopes[a][k] * off[k];
          for (let b = 0; b <= a; b++) normal[a * n + b] += w * slopes[a][k] * slopes[b][k];
        }
      }
    }
    this.known.forEach((w, k) => {
      normal[k * n + k] += w;
      right[k] += w * (start[k] - p[k]);
    });
    for (let a = 0; a < n; a++) for (let b = a + 1; b < n; b++) normal[a * n + b] = normal[b * n + a];
    for (let a = 0; a < n; a++) normal[a * n + a] = normal[a * n + a] * (1 + damping) + 1e-9;
    return solveSymmetric(normal, right);
  }
}
