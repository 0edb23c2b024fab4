import { FROM_REC709, TO_REC709 } from "../color/primaries";
import { differenceCiede2000, workingToLab } from "../color/colorDifference";
import { decodeSrgb, encodeSrgb } from "../color/srgbCurve";
import { multiply, transform } from "../geometry/matrix3";
import { pow } from "../numeric/elementary";
import { solveSymmetric } from "../numeric/linearSystem";
import { slopeOfEncoded } from "./fitTransfer";
import { applyTransfer, type Transfer } from "./transfer";

/** Two places that ought to look alike: linear working light of each. */
export interface ColourPair {
  own: number[];
  wanted: number[];
}

export const [FEWEST_PAIRS, MOST_PAIRS] = [1, 8];
/** Pairs from which the mix of channels is told, and their exponents. */
const MIXED_FROM = 3;
const CURVED_FROM = 4;
/** Rounds, and how near mix and exponents are held to none, against what a pair says. */
const ROUNDS = 200;
const HELD = { mix: 2e-5, exponent: 2e-5 };
/** Own colours nearer than that, ΔE2000, with wanted ones further apart than this, contradict each other. Common practice, no source. */
const [SAME, OTHER] = [3, 8];
/** Darkest light that tells a colour. */
const DARK = 1e-5;

/** Two of the pairs that say different things of the same colour, by their numbers; null where none do. */
export function contradiction(pairs: readonly ColourPair[]): [number, number] | null {
  const between = (p: readonly number[], q: readonly number[]) => differenceCiede2000(workingToLab(p), workingToLab(q));
  for (let i = 0; i < pairs.length; i++)
    for (let j = 0; j < i; j++) if (between(pairs[i].own, pairs[j].own) < SAME && between(pairs[i].wanted, pairs[j].wanted) > OTHER) return [j, i];
  return null;
}

/**
 * What brings marked colours to those they ought to be: exposure and white balance of one pair, a mix of channels from three, an exponent of each from four.
 * @returns the transfer, and what is left of each pair, ΔE2000
 */
export function matchPairs(pairs: readonly ColourPair[]): { transfer: Transfer; left: number[] } {
  const own = pairs.map((p) => transform(TO_REC709, p.own).map((v) => Math.max(DARK, v)));
  const wanted = pairs.map((p) => transform(TO_REC709, p.wanted).map((v) => Math.max(DARK, v)));
  const fits = [0, 1, 2].map((c) =>
    fitOne(
      own,
      wanted.map((w) => w[c]),
      c,
    ),
  );
  const x = Array.from({ length: 12 }, (_, k) => k / 11);
  // the brightest that a mix may make of white is the curve's white
  const scale = fits.map(({ row }) =>
    Math.max(
      1e-6,
      row.reduce((s, v) => s + Math.max(0, v), 0),
    ),
  );
  const transfer: Transfer = {
    mix: multiply(
      fits.flatMap(({ row }, c) => row.map((v) => v / scale[c])),
      TO_REC709,
    ),
    curves: fits.map(({ exponent }, c) => ({
      x,
      y: x.map((v) => Math.min(1, encodeSrgb(pow(decodeSrgb(v) * scale[c], exponent)))),
    })) as Transfer["curves"],
    back: FROM_REC709,
  };
  const light = Float32Array.from(pairs.flatMap((p) => p.own));
  const made = applyTransfer({ count: pairs.length, light }, transfer).light;
  const left = pairs.map((p, i) => differenceCiede2000(workingToLab([...made.subarray(3 * i, 3 * i + 3)]), workingToLab(p.wanted)));
  return { transfer, left };
}

/** One channel: wanted = (row · own) to an exponent, by least squares of encoded values. */
function fitOne(own: readonly number[][], wanted: readonly number[], c: number): { row: number[]; exponent: number } {
  const gain = wanted.reduce((s, w) => s + w, 0) / own.reduce((s, u) => s + u[c], 0);
  const start = [0, 1, 2].map((k) => (k === c ? gain : 0));
  let [row, exponent] = [start, 1];
  if (own.length < MIXED_FROM) return { row, exponent };
  const tells = own.length >= CURVED_FROM;
  const costOf = (r: readonly number[], e: number): number =>
    own.reduce((sum, u, i) => sum + (encodeSrgb(wanted[i]) - encodeSrgb(pow(Math.max(DARK, r[0] * u[0] + r[1] * u[1] + r[2] * u[2]), e))) ** 2, 0) +
    (HELD.mix * r.reduce((sum, v, a) => sum + (v - start[a]) ** 2, 0)) / gain ** 2 +
    HELD.exponent * (e - 1) ** 2;
  let cost = costOf(row, exponent);
  let damping = 1e-3;
  // Levenberg and Marquardt: a step that makes it worse is tried shorter
  for (let round = 0; round < ROUNDS; round++) {
    const normal = new Float64Array(16);
    const right = new Float64Array(4);
    own.forEach((u, i) => {
      const mixed = Math.max(DARK, row[0] * u[0] + row[1] * u[1] + row[2] * u[2]);
      const made = pow(mixed, exponent);
      const miss = encodeSrgb(wanted[i]) - encodeSrgb(made);
      const steep = slopeOfEncoded(made) * made;
      const j = [...u.map((v) => (steep * exponent * v) / mixed), tells ? steep * Math.log(mixed) : 0];
      for (let a = 0; a < 4; a++) {
        right[a] += j[a] * miss;
        for (let b = 0; b < 4; b++) normal[4 * a + b] += j[a] * j[b];
      }
    });
    // shares are held in parts of the gain, so that dark and bright pictures are held alike
    for (let a = 0; a < 3; a++) {
      normal[5 * a] += HELD.mix / gain ** 2;
      right[a] -= (HELD.mix / gain ** 2) * (row[a] - start[a]);
    }
    normal[15] += HELD.exponent;
    right[3] -= HELD.exponent * (exponent - 1);
    for (let a = 0; a < 4; a++) normal[5 * a] *= 1 + damping;
    const step = solveSymmetric(normal, right);
    if (!step || !step.every(Number.isFinite)) break;
    const [next, bent] = [row.map((v, a) => v + step[a]), Math.min(3, Math.max(0.3, exponent + step[3]))];
    const tried = costOf(next, bent);
    if (tried < cost) {
      const gained = cost - tried;
      [row, exponent, cost] = [next, bent, tried];
      damping = Math.max(1e-9, damping / 5);
      if (gained < 1e-10) break;
    } else {
      damping *= 8;
      if (damping > 1e8) break;
    }
  }
  return { row, exponent };
}
