import { solveSymmetric } from "../numeric/linearSystem";

/** Places on the code axis 0..1 at which a response's deviation is given. */
export const RESPONSE_KNOTS = 33;
const ROUNDS = 10;
/** Half the step by which a slope is taken, of the code axis. */
const STEP = 0.01;
/** Codes that are used: below the noise rules, above the clipping. Common practice, no source. */
export const LOWEST_CODE = 0.05;
export const HIGHEST_CODE = 0.96;
/** Weight of smoothness: the second difference over one knot that counts like one sample, EV. */
const SMOOTH_EV = 0.02;
/** Least share of the misfit that a deviation must take away to be believed, and least size, EV. Common practice, no source. */
const LEAST_GAIN = 0.1;
const LEAST_DEVIATION_EV = 0.06;
/** Misfit in multiples of the noise of codes that noise alone explains, and share of the codes between the ends that must be shown: a few tones alone let every curve through. Common practice, no source. */
const EXPLAINED = 1.4;
const LEAST_COVERED = 0.75;

/** Pairs of samples that the fit looks at, spread over all there are. */
const MOST_PAIRS = 12_000;

/** The same place in all frames, one channel. */
export interface ResponsePlace {
  channel: 0 | 1 | 2;
  /** code 0..1 by frame; below 0 where it is of no use */
  codes: ArrayLike<number>;
}

export interface ResponseFit {
  /** EV by which the light of a code differs from what the assumed curve says, at RESPONSE_KNOTS even codes; one for all channels or one each */
  deviationEv: number[][];
  /** EV of each frame, refined, against frame 0 */
  ev: number[];
  /** misfit between frames under the assumed curve and under the one found, EV (median of absolute values · 1.48) */
  beforeEv: number;
  afterEv: number;
  /** whether the assumed curve is to be given up */
  convincing: boolean;
}

/** Deviation at a code, linear between knots. */
export function deviationAt(deviation: ArrayLike<number>, code: number): number {
  const t = Math.min(1, Math.max(0, code)) * (RESPONSE_KNOTS - 1);
  const k = Math.min(RESPONSE_KNOTS - 2, Math.floor(t));
  return deviation[k] + (deviation[k + 1] - deviation[k]) * (t - k);
}

type Curves = ((code: number) => number)[];

/** One place in two frames, a the darker. */
interface Pair {
  channel: number;
  a: number;
  b: number;
  /** codes, and what the assumed curve says of them: log2 light and its slope */
  from: number;
  to: number;
  lightFrom: number;
  lightTo: number;
  slopeFrom: number;
  slopeTo: number;
}

/**
 * The response of a camera from one scene at several exposures: log light of a code is the assumed curve's plus a smooth deviation,
 * found together with the exposures by robust least squares; white stays white. The exposures given hold the exponent, which the
 * pictures alone cannot tell. @see Debevec, Malik 1997, section 2.1 (form recalled from memory); the deviation instead of a whole curve is ours
 * @param assumed log2 light of a code, by channel
 * @param givenEv EV of each frame as known
 * @param givenSigma how well each is known, EV
 * @returns null where too few places are shared
 */
export function fitResponse(places: ResponsePlace[], assumed: ((code: number) => number)[], givenEv: number[], givenSigma: number[]): ResponseFit | null {
  const pairs = pairsOf(places, assumed, givenEv);
  if (pairs.length < 60) return null;
  const before = residualsOf(pairs, [Array<number>(RESPONSE_KNOTS).fill(0)], alignedEv(pairs, givenEv));
  const common = solve(pairs, givenEv, givenSigma, null);
  let deviationEv = [common.deviation];
  let afterEv = spread(residualsOf(pairs, deviationEv, common.ev));
  const split = [0, 1, 2].map((channel) => {
    const own = pairs.filter((p) => p.channel === channel);
    return own.length < 60
      ? common.deviation
      : solve(
          own,
          common.ev,
          common.ev.map(() => 1e-3),
          common.deviation,
        ).deviation;
  });
  const splitEv = spread(residualsOf(pairs, split, common.ev));
  if (splitEv < 0.8 * afterEv) [deviationEv, afterEv] = [split, splitEv];
  const beforeEv = spread(before);
  const used = usedRange(pairs);
  const inside = Array.from({ length: RESPONSE_KNOTS }, (_, k) => k).filter((k) => k / (RESPONSE_KNOTS - 1) >= used[0] && k / (RESPONSE_KNOTS - 1) <= used[1]);
  const largest = Math.max(...deviationEv.flatMap((d) => inside.map((k) => Math.abs(d[k]))));
  const shown = samplesByKnot(pairs);
  const covered = inside.filter((k) => shown[k] >= pairs.length / 400).length / inside.length;
  const unexplained = spread(before.map((r, i) => r / Math.hypot(0.01, noiseOf(pairs[i].slopeFrom, pairs[i].slopeTo))));
  return {
    deviationEv,
    ev: common.ev.map((v) => v - common.ev[0]),
    beforeEv,
    afterEv,
    convincing:
      unexplained > EXPLAINED &&
      covered >= LEAST_COVERED &&
      afterEv < (1 - LEAST_GAIN) * beforeEv &&
      largest >= LEAST_DEVIATION_EV &&
      isRising(assumed, deviationEv),
  };
}

/** What the noise of two codes makes of their light, EV, at given slopes of log light by code. */
const noiseOf = (from: number, to: number) => 0.004 * Math.hypot(from, to);

function samplesByKnot(pairs: Pair[]): Float64Array {
  const count = new Float64Array(RESPONSE_KNOTS);
  for (const { from, to } of pairs) for (const code of [from, to]) count[Math.round(code * (RESPONSE_KNOTS - 1))]++;
  return count;
}

/** Pairs of neighbours of the ladder, and of the next but one, at every place. */
function pairsOf(places: ResponsePlace[], assumed: Curves, ev: number[]): Pair[] {
  const order = ev.map((_, k) => k).sort((p, q) => ev[p] - ev[q]);
  const pairs: Pair[] = [];
  for (const { channel, codes } of places) {
    for (let n = 0; n < order.length; n++) {
      for (const m of [n + 1, n + 2]) {
        if (m >= order.length) continue;
        const [a, b] = [order[n], order[m]];
        // judged by the brighter frame only: choosing by the darker one's code would choose its noise
        const expected = codes[b] * 2 ** ((ev[a] - ev[b]) / 2.2);
        if (!(codes[a] > 0 && codes[b] <= HIGHEST_CODE && expected >= LOWEST_CODE)) continue;
        const [from, to, curve] = [codes[a], codes[b], assumed[channel]];
        const slope = (code: number) => (curve(code + STEP) - curve(code - STEP)) / (2 * STEP);
        pairs.push({ channel, a, b, from, to, lightFrom: curve(from), lightTo: curve(to), slopeFrom: slope(from), slopeTo: slope(to) });
      }
    }
  }
  const stride = Math.max(1, pairs.length / MOST_PAIRS);
  return Array.from({ length: Math.floor(pairs.length / stride) }, (_, i) => pairs[Math.floor(i * stride)]);
}

/** Exposures as the assumed curve sees them: medians between neighbours, so that "before" is no worse than it need be. */
function alignedEv(pairs: Pair[], ev: number[]): number[] {
  const order = ev.map((_, k) => k).sort((p, q) => ev[p] - ev[q]);
  const out = [...ev];
  for (let n = 1; n < order.length; n++) {
    const [a, b] = [order[n - 1], order[n]];
    const steps = pairs.filter((p) => p.a === a && p.b === b).map((p) => p.lightTo - p.lightFrom);
    steps.sort((x, y) => x - y);
    out[b] = out[a] + (steps.length ? steps[steps.length >> 1] : ev[b] - ev[a]);
  }
  return out;
}

function residualsOf(pairs: Pair[], deviation: number[][], ev: number[]): number[] {
  return pairs.map((p) => {
    const d = deviation[deviation.length === 1 ? 0 : p.channel];
    return p.lightTo + deviationAt(d, p.to) - p.lightFrom - deviationAt(d, p.from) - (ev[p.b] - ev[p.a]);
  });
}

function spread(residuals: number[]): number {
  const sorted = residuals.map(Math.abs).sort((x, y) => x - y);
  return 1.48 * sorted[sorted.length >> 1];
}

function usedRange(pairs: Pair[]): [number, number] {
  const codes = pairs.flatMap((p) => [p.from, p.to]).sort((x, y) => x - y);
  return [codes[Math.floor(codes.length * 0.01)], codes[Math.floor(codes.length * 0.99)]];
}

/** One curve and the exposures. @param around the curve it is held to, or null for none */
function solve(pairs: Pair[], givenEv: number[], givenSigma: number[], around: number[] | null): { deviation: number[]; ev: number[] } {
  const frames = givenEv.length;
  const size = RESPONSE_KNOTS + frames;
  let deviation = around ? [...around] : Array<number>(RESPONSE_KNOTS).fill(0);
  let ev = [...givenEv];
  const slope = (assumed: number, code: number) =>
    Math.max(0.5, assumed + (deviationAt(deviation, code + STEP) - deviationAt(deviation, code - STEP)) / (2 * STEP));
  for (let round = 0; round < ROUNDS; round++) {
    const residuals = residualsOf(pairs, [deviation], ev);
    const sigma = Math.max(0.01, spread(residuals));
    const a = new Float64Array(size * size);
    const b = new Float64Array(size);
    const count = 400 / pairs.length;
    const add = (at: ArrayLike<number>, values: ArrayLike<number>, target: number, weight: number) => {
      for (let i = 0; i < at.length; i++) {
        const v = weight * values[i];
        const row = at[i] * size;
        b[at[i]] += v * target;
        for (let j = 0; j < at.length; j++) a[row + at[j]] += v * values[j];
      }
    };
    const [at, values] = [new Int32Array(6), new Float64Array(6)];
    /** Puts where a code lies between its knots. */
    const place = (code: number, sign: number, from: number) => {
      const t = code * (RESPONSE_KNOTS - 1);
      const k = Math.min(RESPONSE_KNOTS - 2, Math.floor(t));
      [at[from], at[from + 1]] = [k, k + 1];
      [values[from], values[from + 1]] = [sign * (1 - (t - k)), sign * (t - k)];
    };
    pairs.forEach((p, i) => {
      // a code is known to about half a step and the picture's own noise; how much light that is depends on the slope
      const noise = noiseOf(slope(p.slopeFrom, p.from), slope(p.slopeTo, p.to));
      const outside = Math.abs(residuals[i]) / (2.5 * Math.hypot(sigma, noise));
      if (outside >= 1) return;
      place(p.to, 1, 0);
      place(p.from, -1, 2);
      [at[4], at[5], values[4], values[5]] = [RESPONSE_KNOTS + p.b, RESPONSE_KNOTS + p.a, -1, 1];
      add(at, values, p.lightFrom - p.lightTo, (count / (noise * noise + 1e-4)) * (1 - outside * outside) ** 2);
    });
    for (let k = 1; k + 1 < RESPONSE_KNOTS; k++) {
      add([k - 1, k, k + 1], [1, -2, 1], 0, 1 / SMOOTH_EV ** 2);
    }
    add([RESPONSE_KNOTS - 1], [1], 0, 1e6);
    if (around) around.forEach((v, k) => add([k], [1], v, 0.3));
    for (let k = 0; k < frames; k++) {
      // one frame's exposure may be told wrongly
      const off = Math.abs(ev[k] - ev[0] - (givenEv[k] - givenEv[0])) / (2 * givenSigma[k]);
      add([RESPONSE_KNOTS + k], [1], givenEv[k], (k === 0 ? 1e3 : 1) / givenSigma[k] ** 2 / Math.max(1, off));
    }
    // but not all of them by one factor: with it every curve could be bent to nothing
    const mean = givenEv.reduce((sum, v) => sum + v, 0) / frames;
    const lever = givenEv.map((v) => v - mean);
    add(
      lever.map((_, k) => RESPONSE_KNOTS + k),
      lever,
      lever.reduce((sum, v, k) => sum + v * givenEv[k], 0),
      1e5,
    );
    const x = solveSymmetric(a, b);
    if (!x) break;
    deviation = Array.from(x.subarray(0, RESPONSE_KNOTS));
    ev = Array.from(x.subarray(RESPONSE_KNOTS));
  }
  return { deviation, ev };
}

/** More light never gives a smaller code. */
function isRising(assumed: Curves, deviations: number[][]): boolean {
  return deviations.every((d, c) => {
    let last = -Infinity;
    for (let k = 1; k < RESPONSE_KNOTS; k++) {
      const code = k / (RESPONSE_KNOTS - 1);
      const light = assumed[c](code) + d[k];
      if (light <= last) return false;
      last = light;
    }
    return true;
  });
}
