import { carryAlpha } from "./carryAlpha";
import { mattingLaplacian, solveBand } from "./mattingLaplacian";
import { sampleColours } from "./sampleColours";
import { asPart, type Stepwise } from "../numeric/stepwise";
import { BACKGROUND, bandOf, FOREGROUND, halvedField, HELD, UNKNOWN, type Band, type MatteField } from "./trimap";

/** Fields are halved until their shorter side is below this. */
const SMALLEST = 96;
/** Alpha this near to none or all tells a known colour to those about it: also where only what is in front is looked for. */
const [SURE, SURE_BEFORE_PLATE] = [0.12, 0.05];
/** How often colours are sampled and alpha is solved anew: on the coarsest field, on those finer than it, and where a band is large. */
const [ROUNDS_COARSEST, ROUNDS_FINER, ROUNDS_LARGE] = [3, 2, 1];
/** A band of more samples is narrowed to where half the size does not tell alpha. */
const LARGE_BAND = 60_000;
/** Of a band of more samples alpha is what half the size and the colours tell: there every strand is several samples wide. */
const MOST_SOLVED = 300_000;
/** What is told by half the size: alpha about a sample is this near to none or all. */
const TOLD = 0.004;
/** Weight of what sampling tells against the smoothness of alpha: while known colours may be far off, once they are near, and where the one behind is known by itself. */
const [TOLD_FAR, TOLD_NEAR, TOLD_BY_PLATE] = [0.01, 0.1, 1];
/** Steps of descent: where it begins anywhere, and where it begins at what half the size told. */
const [STEPS_ANYWHERE, STEPS_NEAR] = [60, 25];
/** How far known colours are looked for, samples: on the coarsest field, and where gaps are known from it. */
const [REACH_COARSEST, REACH_FINER] = [200, 40];

export interface SolvedMatte {
  /** of every sample of the field, 0..1 */
  alpha: Float32Array;
  /** what is known by now: of a large band less is unknown than was */
  known: Uint8Array;
}

/**
 * Alpha of a field in its band of unknown samples: as colours nearby tell it, and as smooth as the picture is, coarse to fine. What comes out sure is a known
 * colour for the next round, so that gaps between strands are told by themselves.
 * @see He, Sun, Tang 2010, "Fast matting using large kernel matting Laplacian matrices", for going from coarse to fine
 */
export function* solveMatte(field: MatteField): Stepwise<SolvedMatte> {
  if (Math.min(field.width, field.height) < 2 * SMALLEST) return yield* solveBandOf(field, field.known, null, ROUNDS_COARSEST);
  const half = halvedField(field);
  const { alpha } = yield* asPart(solveMatte(half), 0, 1 / 4);
  return yield* asPart(refineMatte(field, half, alpha), 1 / 4, 1);
}

/** Alpha of a field whose half size is solved. @param half the same at half the size @param coarse its alpha */
export function* refineMatte(field: MatteField, half: MatteField, coarse: Float32Array): Stepwise<SolvedMatte> {
  const isLarge = countUnknown(field.known) > LARGE_BAND;
  const known = isLarge ? narrowed(field, coarse) : field.known;
  const band = bandOf(known);
  const start = new Float64Array(band.places.length);
  carryAlpha(half, coarse, field, band, start);
  const rounds = band.places.length > MOST_SOLVED ? 0 : band.places.length > LARGE_BAND ? ROUNDS_LARGE : ROUNDS_FINER;
  return yield* solveBandOf(field, known, start, rounds);
}

/**
 * Alpha of a field that was solved before, solved anew where it is open; elsewhere it stays as it was.
 * @param before alpha of each sample @param open 1 where it may change
 */
export function* solveAgain(field: MatteField, before: Float32Array, open: Uint8Array): Stepwise<SolvedMatte> {
  const known = field.known.map((k, i) => (k === UNKNOWN && !open[i] ? HELD : k));
  const { places } = bandOf(known);
  const start = new Float64Array(places.length);
  for (let k = 0; k < start.length; k++) start[k] = before[places[k]];
  const { alpha } = yield* solveBandOf(field, known, start, ROUNDS_FINER, before);
  return { alpha, known: field.known };
}

/** @param start alpha of the band to begin at, or null to begin anywhere @param held alpha of samples that are held */
function* solveBandOf(
  field: MatteField,
  known: Uint8Array,
  start: Float64Array | null,
  rounds: number,
  held: Float32Array | null = null,
): Stepwise<SolvedMatte> {
  const band = bandOf(known);
  const n = band.places.length;
  const alpha = new Float32Array(known.length);
  for (let i = 0; i < alpha.length; i++) alpha[i] = known[i] === FOREGROUND ? 1 : known[i] === HELD ? held![i] : 0;
  if (n === 0) return { alpha, known };
  const solved = start ?? new Float64Array(n).fill(0.5);
  if (rounds > 0) {
    const laplacian = mattingLaplacian({ ...field, known }, band, alpha);
    const [diagonal, right] = [laplacian.diagonal.slice(), laplacian.right.slice()];
    for (let round = 0; round < rounds; round++) {
      yield round / rounds;
      const isFirst = start === null && round === 0;
      const told = sampleColours(
        field,
        band,
        isFirst ? known : surelyKnown(known, band, solved, alpha, field.plate ? SURE_BEFORE_PLATE : SURE),
        start === null ? REACH_COARSEST : REACH_FINER,
      );
      for (let k = 0; k < n; k++) {
        const weight = (field.plate ? TOLD_BY_PLATE : isFirst ? TOLD_FAR : TOLD_NEAR) * told.confidence[k];
        laplacian.diagonal[k] = diagonal[k] + weight;
        laplacian.right[k] = right[k] + weight * told.alpha[k];
      }
      solveBand(laplacian, solved, start === null ? STEPS_ANYWHERE : STEPS_NEAR);
    }
  }
  for (let k = 0; k < n; k++) alpha[band.places[k]] = Math.min(1, Math.max(0, solved[k]));
  return { alpha, known };
}

function countUnknown(known: Uint8Array): number {
  let count = 0;
  for (let i = 0; i < known.length; i++) if (known[i] === UNKNOWN) count++;
  return count;
}

/** What is known of a field once alpha of half the size is: unknown stays what that leaves open, with its surroundings. */
function narrowed({ width, height, known }: MatteField, coarse: Float32Array): Uint8Array {
  const [w, h] = [(width + 1) >> 1, (height + 1) >> 1];
  const out = known.slice();
  for (let y = 0; y < h; y++) {
    for (let x = 0; x < w; x++) {
      let [least, most] = [1, 0];
      for (let v = Math.max(0, y - 1); v <= Math.min(h - 1, y + 1); v++) {
        for (let u = Math.max(0, x - 1); u <= Math.min(w - 1, x + 1); u++) {
          const a = coarse[v * w + u];
          least = Math.min(least, a);
          most = Math.max(most, a);
        }
      }
      const told = least > 1 - TOLD ? FOREGROUND : most < TOLD ? BACKGROUND : UNKNOWN;
      if (told === UNKNOWN) continue;
      for (let v = 2 * y; v < Math.min(height, 2 * y + 2); v++)
        for (let u = 2 * x; u < Math.min(width, 2 * x + 2); u++) if (out[v * width + u] === UNKNOWN) out[v * width + u] = told;
    }
  }
  return out;
}

/** What may be taken for known where alpha is solved or held. */
function surelyKnown(known: Uint8Array, { places }: Band, solved: Float64Array, held: Float32Array, sure: number): Uint8Array {
  const told = (a: number) => (a > 1 - sure ? FOREGROUND : a < sure ? BACKGROUND : UNKNOWN);
  const out = known.map((k, i) => (k === HELD ? told(held[i]) : k));
  for (let k = 0; k < places.length; k++) out[places[k]] = told(solved[k]);
  return out;
}
