import { boxMean } from "../raster/boxMean";
import { solveAgain, solveMatte } from "./solveMatte";
import { asPart, type Stepwise } from "../numeric/stepwise";
import { BACKGROUND, FOREGROUND, UNKNOWN, type Colours } from "./trimap";

/** What a person has marked: to keep, to leave, or to look at closely; 0 for none of it. */
export const [KEEP, LEAVE, OPEN] = [1, 2, 3];

/** Samples on either side of a border that are open at first, and by how much the band grows where alpha is not settled at its edge. Common practice, no source. */
export const FIRST = 4;
const GROWTH = 6;
/** So often it grows at most. */
const GROWS = 6;
/** A band grows inwards so far from where a plate is seen, samples. Common practice, no source. */
const INWARD = 4;
/** What is solved anew where a band grew: samples about it. */
const SOLVED_ABOUT = 10;
/** Alpha at the edge of the band that is not settled yet. */
const UNSETTLED = 0.12;
/** Alpha that is partly there in the end, and the samples about it that stay open. */
const [PARTLY, MARGIN] = [0.03, 2];

/** A picture at about 480 px: linear light, the same as Oklab, and what lies behind where that is known by itself. */
export interface SmallPicture {
  width: number;
  height: number;
  rgb: Colours;
  lab: Colours;
  plate: Colours | null;
}

/** What is known of a picture, with the mask and the alpha that it comes from, by sample. */
export interface Proposal {
  mask: Uint8Array;
  /** BACKGROUND, UNKNOWN or FOREGROUND */
  known: Uint8Array;
  alpha: Float32Array;
}

/** What a person or a box says of a sample: FOREGROUND, BACKGROUND or UNKNOWN whatever is found there, or null where nothing is said. */
export type Told = (i: number) => number | null;

/** Where a mean over a window saw anything. */
export function touched(mean: Float32Array): Uint8Array {
  const out = new Uint8Array(mean.length);
  // a mean over a window is a sum carried along: what is none may be a little
  for (let i = 0; i < out.length; i++) if (mean[i] > 1e-4) out[i] = 1;
  return out;
}

/** What is known by a mask alone: its border is open, and what may be see-through. */
export function knownByMask({ width, height }: SmallPicture, mask: Uint8Array, open: Uint8Array | null, told: Told): Uint8Array {
  const around = boxMean({ width, height, data: Float32Array.from(mask) }, FIRST);
  // a mean over a window is a sum carried along: what is none may be a little
  return Uint8Array.from(mask, (_, i) => told(i) ?? (around[i] > 0.999 && !open?.[i] ? FOREGROUND : around[i] < 0.001 ? BACKGROUND : UNKNOWN));
}

/**
 * The band about the border of a mask, as wide as what it borders on is fine.
 * @param open where something may be see-through, however far inside
 */
export function* growBand(small: SmallPicture, mask: Uint8Array, open: Uint8Array | null, told: Told): Stepwise<Proposal> {
  const known = knownByMask(small, mask, open, told);
  const { alpha } = yield* asPart(solveMatte({ ...small, known }), 0, 0.3);
  const grown = yield* asPart(growUntilSettled(small, known, alpha, open, told, null), 0.3, 0.8);
  const narrow = settled(small, grown.known, grown.alpha, told, null);
  const solved = yield* asPart(solveMatte({ ...small, known: narrow }), 0.8, 1);
  return { mask, known: narrow, alpha: solved.alpha };
}

/**
 * Widens a band wherever strands go on beyond it, and solves what is near anew.
 * @param open where something may be see-through, beside which it grows inwards too @param within where it may grow; null: everywhere
 */
export function* growUntilSettled(
  small: SmallPicture,
  before: Uint8Array,
  solved: Float32Array,
  open: Uint8Array | null,
  told: Told,
  within: Uint8Array | null,
): Stepwise<{ known: Uint8Array; alpha: Float32Array }> {
  const { width, height, plate } = small;
  const inward = plate && open && touched(boxMean({ width, height, data: Float32Array.from(open) }, INWARD));
  const near = (on: Float32Array, by: number) => boxMean({ width, height, data: on }, by);
  const known = before.slice();
  let alpha = solved;
  for (let grown = 0; grown < GROWS; grown++) {
    yield grown / GROWS;
    // inwards only where the plate shows: colours alone find what is behind everywhere in what is in front
    const unsettled = new Float32Array(alpha.length);
    for (let i = 0; i < alpha.length; i++) {
      if (known[i] !== UNKNOWN || (within && !within[i])) continue;
      if ((alpha[i] > UNSETTLED && isBeside(known, width, i, BACKGROUND)) || (inward?.[i] && alpha[i] < 1 - UNSETTLED && isBeside(known, width, i, FOREGROUND)))
        unsettled[i] = 1;
    }
    const wider = near(unsettled, GROWTH);
    const fresh = new Float32Array(known.length);
    for (let i = 0; i < known.length; i++) {
      if (known[i] === UNKNOWN || wider[i] < 1e-4 || told(i) !== null) continue;
      known[i] = UNKNOWN;
      fresh[i] = 1;
    }
    if (!fresh.includes(1)) break;
    const about = touched(near(fresh, SOLVED_ABOUT));
    ({ alpha } = yield* asPart(solveAgain({ ...small, known }, alpha, about), grown / GROWS, (grown + 1) / GROWS));
  }
  return { known, alpha };
}

function isBeside(known: Uint8Array, width: number, i: number, what: number): boolean {
  const x = i % width;
  return (x > 0 && known[i - 1] === what) || (x + 1 < width && known[i + 1] === what) || known[i - width] === what || known[i + width] === what;
}

/** A band without what came out wholly there or not at all. @param within where it is narrowed; null: everywhere */
export function settled({ width, height }: SmallPicture, known: Uint8Array, alpha: Float32Array, told: Told, within: Uint8Array | null): Uint8Array {
  const isPartly = alpha.map((a) => (a > PARTLY && a < 1 - PARTLY ? 1 : 0));
  const partly = boxMean({ width, height, data: isPartly }, MARGIN);
  return known.map((k, i) => told(i) ?? (k !== UNKNOWN || partly[i] > 1e-4 || (within && !within[i]) ? k : alpha[i] > 0.5 ? FOREGROUND : BACKGROUND));
}
