import { encodeSrgb } from "../color/srgbCurve";
import { FROM_REC709, TO_REC709 } from "../color/primaries";
import { multiply } from "../geometry/matrix3";
import { solveSymmetric } from "../numeric/linearSystem";
import { quantile } from "../numeric/statistics";
import { lookUp, tableOf, type Samples, type Transfer } from "./transfer";

/** Channels that pictures are encoded in as a rule: those of sRGB, in which their curves were applied. */

/** Nodes of a curve, evenly over encoded values. */
const NODES = 12;
/** Rounds of the fit, at most. */
const ROUNDS = 24;
/** How even the slope of a curve is held, against a sample's miss; and how near the mix is held to none, so that a picture of one hue has an answer. */
const EVEN = 2e-3;
const NEAR = 1e-5;
/** Misses beyond that many of the usual count less. */
const HUBER = 2;
const LEAST_MISS = 0.5 / 255;
/** Encoded values that are clipped, or nearly. */
const [BLACK, WHITE] = [0.5 / 255, 254.2 / 255];
/** What of a picture is taken for its white. */
const BRIGHTEST = 0.999;
const ROOM = 0.8;
/** A picture is taken to be no darker than that, over white. */
const DARKEST = 0.02;
/** What a round has to gain, and what counts as a large miss. */
const LEAST_GAIN = 1e-3;
const LARGE_MISS = 0.1;
/** A curve's slope is taken over so much to either side. */
const SLOPE_OVER = 1e-3;

/** Three channels as fitted: the shares of the own ones, and the values of each curve at its nodes. */
export interface Fit {
  rows: number[][];
  curves: number[][];
}

const NODES_AT = Array.from({ length: NODES }, (_, k) => k / (NODES - 1));

/**
 * What turns samples into others of the same places, one by one: each of three channels is a mix of the own ones under a curve, by least squares of encoded values, in which what moved counts little.
 * @param from @param to as many, in the same order @param weights of them, where some tell less
 * @see Huber 1964 for the weights; a camera's matrix and curve: Ramanath et al. 2005
 */
export function fitTransfer(from: Samples, to: Samples, weights: Float32Array | null = null): Transfer {
  return transferOf(fitOwn(ownOf(from), encodedOwn(to), weights));
}

/** The same on the own channels of samples: linear, and encoded. @param start where it begins; none: from no change @param rounds at most */
export function fitOwn(own: Float64Array, target: Float64Array, weights: Float32Array | null, start: Fit | null = null, rounds = ROUNDS): Fit {
  const fits = [0, 1, 2].map((c) => fitChannel(own, target, c, weights, start && { row: start.rows[c], y: start.curves[c] }, rounds));
  return { rows: fits.map((f) => f.row), curves: fits.map((f) => f.y) };
}

export const transferOf = ({ rows, curves }: Fit): Transfer => ({
  mix: multiply(rows.flat(), TO_REC709),
  curves: curves.map((y) => ({ x: NODES_AT, y: y.map((v) => Math.min(1, Math.max(0, v))) })) as Transfer["curves"],
  back: FROM_REC709,
});

/** Own channels as a fit makes them, encoded. */
export function fitted({ rows, curves }: Fit, own: Float64Array): Float64Array {
  const tables = curves.map((y) => tableOf({ x: NODES_AT, y }));
  return Float64Array.from(own, (_, i) => lookUp(tables[i % 3], encodeSrgb(Math.max(0, mixOf(own, (i - (i % 3)) / 3, rows[i % 3])))));
}

/** Own channels of samples, encoded. */
export const encodedOwn = (samples: Samples): Float64Array => ownOf(samples).map((v) => encodeSrgb(Math.max(0, v)));

/** Planes of working light in the channels that curves work on, none below zero. */
export function ownPlanes([red, green, blue]: readonly Float32Array[]): [Float32Array, Float32Array, Float32Array] {
  const planeOf = (c: number) => red.map((r, i) => Math.max(0, TO_REC709[3 * c] * r + TO_REC709[3 * c + 1] * green[i] + TO_REC709[3 * c + 2] * blue[i]));
  return [planeOf(0), planeOf(1), planeOf(2)];
}

/** Samples in the channels that curves work on. */
export function ownOf({ count, light }: Samples): Float64Array {
  const out = new Float64Array(3 * count);
  for (let i = 0; i < 3 * count; i += 3) {
    for (let c = 0; c < 3; c++) out[i + c] = TO_REC709[3 * c] * light[i] + TO_REC709[3 * c + 1] * light[i + 1] + TO_REC709[3 * c + 2] * light[i + 2];
  }
  return out;
}

/** One channel: three shares of the own ones, and a curve over their mix. */
function fitChannel(
  own: Float64Array,
  target: Float64Array,
  c: number,
  weights: Float32Array | null,
  start: { row: number[]; y: number[] } | null,
  rounds: number,
): { row: number[]; y: number[] } {
  const count = own.length / 3;
  const x = NODES_AT;
  const none = toWhite(
    own,
    [0, 1, 2].map((k) => Number(k === c)),
  );
  let [row, y] = start ? [start.row, start.y] : [none, x.slice()];
  const mean = [0, 1, 2].map((k) => own.reduce((sum, v, i) => (i % 3 === k ? sum + v : sum), 0) / count);
  let best = { row, y, cost: Infinity };
  const misses = new Float64Array(count);
  for (let round = 0; round < rounds; round++) {
    const table = tableOf({ x, y });
    for (let i = 0; i < count; i++) misses[i] = target[3 * i + c] - lookUp(table, encodeSrgb(Math.max(0, mixOf(own, i, row))));
    const usual = Math.max(LEAST_MISS, 1.4826 * quantile(misses.map(Math.abs), 0.5));
    const cost = costOf(misses, target, c, weights);
    if (cost < best.cost * (1 - LEAST_GAIN)) best = { row, y, cost };
    else if (round > 3 || start) break;
    const step = stepOf({ own, target, c, weights, y, row, none, mean, table, misses, usual });
    if (!step) break;
    row = row.map((v, a) => v + step[a]);
    y = rising(y.map((v, k) => v + step[3 + k]));
  }
  return start && rounds === 1 ? { row, y } : best;
}

/** Mean miss, of which the largest count as large ones. */
function costOf(misses: Float64Array, target: Float64Array, c: number, weights: Float32Array | null): number {
  let [sum, all] = [0, 0];
  for (let i = 0; i < misses.length; i++) {
    if (isClipped(target[3 * i + c])) continue;
    const w = weights ? weights[i] : 1;
    sum += w * Math.min(LARGE_MISS, Math.abs(misses[i]));
    all += w;
  }
  return all > 0 ? sum / all : 0;
}

const isClipped = (encoded: number): boolean => encoded >= WHITE || encoded <= BLACK;

interface Linearized {
  own: Float64Array;
  target: Float64Array;
  c: number;
  weights: Float32Array | null;
  y: number[];
  row: number[];
  /** a mix of the own channel alone, and the mean light of each */
  none: number[];
  mean: number[];
  table: Float32Array;
  misses: Float64Array;
  usual: number;
}

/** One step of Gauss and Newton: changes of the three shares and of the nodes; null where none can be told. */
function stepOf({ own, target, c, weights, y, row, none, mean, table, misses, usual }: Linearized): Float64Array | null {
  const count = misses.length;
  const size = 3 + NODES;
  const normal = new Float64Array(size * size);
  const right = new Float64Array(size);
  const j = [0, 0, 0, 0, 0];
  const at5 = [0, 1, 2, 0, 0];
  for (let i = 0; i < count; i++) {
    // what is clipped tells only that it is
    if (isClipped(target[3 * i + c])) continue;
    const light = Math.max(1e-7, mixOf(own, i, row));
    const z = encodeSrgb(light);
    const miss = misses[i];
    const far = Math.abs(miss) / (HUBER * usual);
    const w = (weights ? weights[i] : 1) / Math.max(1, far);
    if (w === 0) continue;
    const at = Math.min(NODES - 1 - 1e-9, Math.max(0, z * (NODES - 1)));
    const k = Math.floor(at);
    const [low, high] = [Math.max(0, z - SLOPE_OVER), Math.min(1, z + SLOPE_OVER)];
    const steep = (z >= 1 ? 1 : (lookUp(table, high) - lookUp(table, low)) / (high - low)) * slopeOfEncoded(light);
    for (let a = 0; a < 3; a++) j[a] = steep * own[3 * i + a];
    j[3] = 1 - (at - k);
    j[4] = at - k;
    at5[3] = 3 + k;
    at5[4] = 4 + k;
    for (let a = 0; a < 5; a++) {
      right[at5[a]] += w * j[a] * miss;
      for (let b = 0; b < 5; b++) normal[at5[a] * size + at5[b]] += w * j[a] * j[b];
    }
  }
  // a curve is as even as what it has to tell allows
  const bend = [1, -2, 1];
  for (let k = 0; k + 2 < NODES; k++) {
    const now = y[k] - 2 * y[k + 1] + y[k + 2];
    for (let a = 0; a < 3; a++) {
      right[3 + k + a] -= EVEN * count * bend[a] * now;
      for (let b = 0; b < 3; b++) normal[(3 + k + a) * size + 3 + k + b] += EVEN * count * bend[a] * bend[b];
    }
  }
  // brighter by the mix or by the curve is the same: the curve has it, and the mix of what is like another channel stays
  for (let a = 0; a < 3; a++) {
    normal[a * size + a] += NEAR * count;
    right[a] -= NEAR * count * (row[a] - none[a]);
    for (let b = 0; b < 3; b++) normal[a * size + b] += count * mean[a] * mean[b];
  }
  for (let a = 0; a < size; a++) normal[a * size + a] += 1e-9 * count;
  const step = solveSymmetric(normal, right);
  return step && step.every(Number.isFinite) ? step : null;
}

const mixOf = (own: Float64Array, i: number, row: readonly number[]): number => row[0] * own[3 * i] + row[1] * own[3 * i + 1] + row[2] * own[3 * i + 2];

/** Shares whose brightest mix is nearly white: others that are tried may be brighter. */
function toWhite(own: Float64Array, row: readonly number[]): number[] {
  const count = own.length / 3;
  const mixed = Float64Array.from({ length: count }, (_, i) => mixOf(own, i, row));
  const brightest = Math.max(DARKEST, quantile(mixed, BRIGHTEST));
  return row.map((v) => (ROOM * v) / brightest);
}

/** How steep the sRGB curve is at a linear light. */
export const slopeOfEncoded = (light: number): number => (light <= 0.0031308 ? 12.92 : (1.055 / 2.4) * light ** (1 / 2.4 - 1));

/** A row of values none of which is less than the one before. */
function rising(y: readonly number[]): number[] {
  let most = 0;
  return y.map((v) => (most = Math.max(most, v)));
}
