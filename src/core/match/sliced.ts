import { encodedOwn, fitOwn, fitted, ownOf, transferOf, type Fit } from "./fitTransfer";
import type { Samples, Transfer } from "./transfer";

/** Rounds, and bases of directions that each looks along. */
const ROUNDS = 30;
const BASES = 4;
/** Quantiles at which two rows of values are held to each other. */
const QUANTILES = 512;

/**
 * What turns the colours of one picture into those of another, whatever lies where: both are looked at along directions of colour, sorted along each, and each sample is drawn to the one of its rank;
 * of where all are drawn to, the transfer is fitted. The same channels, mix and curves as of pairs.
 * @returns how far colours still lie from their likes on the mean, of the encoded range: hardly at all where both pictures show the same
 * @see Pitié, Kokaram, Dahyot 2007 and Bonneel et al. 2015 for the directions
 */
export function matchColours(from: Samples, to: Samples): { transfer: Transfer; left: number } {
  const own = ownOf(from);
  const wanted = encodedOwn(to);
  let fit: Fit | null = null;
  let now = encodedOwn(from);
  for (let round = 0; round < ROUNDS; round++) {
    const drawn = drawnTo(now, wanted, round);
    fit = fitOwn(own, drawn, null, fit, round === 0 ? 12 : 1);
    now = fitted(fit, own);
  }
  // where all colours have their likes, none is drawn anywhere
  const drawn = drawnTo(now, wanted, ROUNDS);
  const left = drawn.reduce((sum, v, i) => sum + Math.abs(v - now[i]), 0) / drawn.length;
  return { transfer: transferOf(fit!), left };
}

/** Where each sample is drawn to, along some bases of directions. */
function drawnTo(now: Float64Array, wanted: Float64Array, round: number): Float64Array {
  const out = now.slice();
  const count = now.length / 3;
  const along = new Float64Array(count);
  const others = new Float64Array(wanted.length / 3);
  for (let b = 0; b < BASES; b++) {
    for (const [x, y, z] of basis(round * BASES + b)) {
      for (let i = 0; i < count; i++) along[i] = x * now[3 * i] + y * now[3 * i + 1] + z * now[3 * i + 2];
      for (let i = 0; i < others.length; i++) others[i] = x * wanted[3 * i] + y * wanted[3 * i + 1] + z * wanted[3 * i + 2];
      const [mine, theirs] = [ranksOf(along), ranksOf(others)];
      for (let i = 0; i < count; i++) {
        const way = (moved(mine, theirs, along[i]) - along[i]) / BASES;
        out[3 * i] += way * x;
        out[3 * i + 1] += way * y;
        out[3 * i + 2] += way * z;
      }
    }
  }
  return out;
}

/** Values at even shares of a row. */
function ranksOf(values: Float64Array): Float64Array {
  const sorted = values.slice().sort();
  return Float64Array.from({ length: QUANTILES + 1 }, (_, k) => sorted[Math.round((k / QUANTILES) * (sorted.length - 1))]);
}

/** The value of another row that has the rank of a value. */
function moved(mine: Float64Array, theirs: Float64Array, value: number): number {
  let [low, high] = [0, QUANTILES];
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if (mine[middle] <= value) low = middle;
    else high = middle;
  }
  const span = mine[high] - mine[low];
  const t = span > 0 ? Math.min(1, Math.max(0, (value - mine[low]) / span)) : 0.5;
  return theirs[low] + t * (theirs[high] - theirs[low]);
}

/** Three directions at right angles, a different turn each time, the same in every run: the channels first. */
function basis(turn: number): number[][] {
  if (turn === 0)
    return [
      [1, 0, 0],
      [0, 1, 0],
      [0, 0, 1],
    ];
  // a quaternion of low discrepancy. @see Shoemake 1992
  const [u, v, w] = [1, 2, 3].map((k) => (turn * [0.8191725134, 0.6710436067, 0.5497004779][k - 1]) % 1);
  const [a, b] = [Math.sqrt(1 - u), Math.sqrt(u)];
  const [qx, qy, qz, qw] = [a * Math.sin(2 * Math.PI * v), a * Math.cos(2 * Math.PI * v), b * Math.sin(2 * Math.PI * w), b * Math.cos(2 * Math.PI * w)];
  return [
    [1 - 2 * (qy * qy + qz * qz), 2 * (qx * qy - qz * qw), 2 * (qx * qz + qy * qw)],
    [2 * (qx * qy + qz * qw), 1 - 2 * (qx * qx + qz * qz), 2 * (qy * qz - qx * qw)],
    [2 * (qx * qz - qy * qw), 2 * (qy * qz + qx * qw), 1 - 2 * (qx * qx + qy * qy)],
  ];
}
