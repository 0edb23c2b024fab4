import { atLevel, project, type Matrix3 } from "../geometry/matrix3";
import type { Lens } from "../geometry/lens";
import { levelOf, type GreyPyramid } from "./greyPyramid";
import { summarizeShifts, type Agreement } from "./judgeFit";
import { measureLocalShifts, structuredPlaces, type LocalShift } from "./localShifts";
import type { ModelChoice, MotionModel } from "./models";
import type { Photometry } from "./photometry";
import type { Selection } from "./refine";
import type { RegionMask } from "./regions";

export interface PairOptions {
  model: ModelChoice;
  /** fixed → moving at full size where a good guess is known (from a chain, or by hand) */
  start?: Matrix3;
  /** lens of the moving frame where it is known; every model but "radial" keeps it */
  lens?: Lens | null;
  fixedLens?: Lens | null;
  finest?: number;
  /** how much may be tried: 1 shifts, 2 features too, 3 small turns too, 4 all; all by default */
  effort?: 1 | 2 | 3 | 4;
  regions?: RegionMask | null;
}

export interface PairRegistration {
  /** fixed → undistorted moving, full size */
  matrix: Matrix3;
  lens: Lens | null;
  model: MotionModel;
  information: Float64Array;
  shifts: LocalShift[];
  agreement: Agreement;
  /** how far off other solutions lie that explain the frames as well, px, the nearest first: none where something in the frames decides */
  otherPx: number[];
}

/** Two frames while they are registered. */
export interface Pair {
  fixed: GreyPyramid;
  moving: GreyPyramid;
  relativeEv: number;
  photometry: Photometry;
  top: number;
  finest: number;
  /** at which what is left is measured */
  level: number;
  options: PairOptions;
  /** where most of the frame changed: around what agrees; points are taken from there alone */
  only?: RegionMask;
  /** of the fixed frame, at the middle level, where maps are judged; found once */
  places?: [number, number][];
}

/** Columns of places looked at to accept a pair; the final figures use more. */
export const CHECK_COLUMNS = 12;
/** What is accepted as the same scene, so that unrelated photographs do not pass; `scripts/bench unrelated` counts. */
export const ACCEPT = { agreeing: 0.3, places: 6, middleAgreeing: 0.4, middlePlaces: 8, elsewherePx: 1.2 };
/**
 * Most of a frame may have changed: fewer places are enough where there are many of them, fewer still where as many features say the same. Of unrelated photographs
 * no more than a tenth agrees, and no map has features.
 */
const MOSTLY_CHANGED = { agreeing: 0.25, places: 60 };
export const BY_FEATURES = { support: 16, agreeing: 0.12, places: 24 };

/** A map that may be where to begin, and how much agrees under it at the middle level. */
export interface Start {
  matrix: Matrix3;
  lens: Lens | null;
  agreement: Agreement;
  shifts: LocalShift[];
  /** features that say the same */
  support: number;
}

/** Whether most of what both frames show agrees. */
export const mostAgrees = ({ agreement }: Start) => agreement.agreeing >= ACCEPT.middleAgreeing && agreement.places >= ACCEPT.middlePlaces;

/** Whether enough agrees for the frames to show one scene. */
export function isGood(start: Start): boolean {
  const { agreement, support } = start;
  const reaches = ({ agreeing, places }: { agreeing: number; places: number }) => agreement.agreeing >= agreeing && agreement.places >= places;
  return mostAgrees(start) || reaches(MOSTLY_CHANGED) || (support >= BY_FEATURES.support && reaches(BY_FEATURES));
}

/** The selection of a level: what counts, and where most changed, only what lies around the places that agree. */
export function countingAt({ options, only }: Pair, level: number): Selection | undefined {
  const marked = options.regions?.atLevel(level);
  const around = only?.atLevel(level);
  if (!marked || !around) return around ?? marked;
  return { bounds: around.bounds, counts: (x, y) => around.counts(x, y) && marked.counts(x, y) };
}

/** The level at which a start is judged: about 700 px or more on the longer side. */
export function middleLevel(p: GreyPyramid, top: number): number {
  return Math.max(0, Math.min(top, Math.floor(Math.log2(Math.max(p.width, p.height) / 700))));
}

/** Places of the fixed frame, at the middle level, that have structure and count: maps are judged there. */
export function judgedPlaces(pair: Pair): [number, number][] {
  const { fixed, photometry, options, top } = pair;
  const middle = middleLevel(fixed, top);
  const more = { fixedLens: options.fixedLens, columns: CHECK_COLUMNS * 2, selection: options.regions?.atLevel(middle) };
  // the same for every map that is tried
  pair.places ??= structuredPlaces(levelOf(fixed, middle), photometry, more);
  return pair.places;
}

/** How much agrees under a map at the middle level, place by place. @param there fixed → undistorted moving at that level */
export function judgeAt(pair: Pair, there: Matrix3, lens: Lens | null, support = 0): Start {
  const { fixed, moving, photometry, options, top } = pair;
  const middle = middleLevel(fixed, top);
  const more = { lens, fixedLens: options.fixedLens, columns: CHECK_COLUMNS * 2, selection: options.regions?.atLevel(middle) };
  const shifts = measureLocalShifts(levelOf(fixed, middle), levelOf(moving, middle), photometry, there, more, judgedPlaces(pair));
  return { matrix: atLevel(there, -middle), lens, agreement: summarizeShifts(shifts), shifts, support };
}

/** Whether the lens is to be found out, not known or left alone. */
export const mayBend = (options: PairOptions) => !options.lens && (options.model === "auto" || options.model === "radial");

/** How much larger or smaller one frame may show things, by area: a factor of four. */
const MOST_SCALED = 16;

/** A registration that folds, mirrors or scales the frame beyond reason is no registration. */
export function plausible(m: Matrix3, size: { width: number; height: number }): boolean {
  const { width: w, height: h } = size;
  const corners = [
    [0, 0],
    [w, 0],
    [w, h],
    [0, h],
  ].map(([x, y]) => project(m, x, y));
  let twice = 0;
  for (let k = 0; k < 4; k++) {
    const [x0, y0] = corners[k];
    const [x1, y1] = corners[(k + 1) % 4];
    const [x2, y2] = corners[(k + 2) % 4];
    const turn = (x1 - x0) * (y2 - y1) - (y1 - y0) * (x2 - x1);
    if (!(turn > 0)) return false;
    twice += x0 * y1 - x1 * y0;
  }
  const ratio = twice / 2 / (w * h);
  return ratio > 1 / MOST_SCALED && ratio < MOST_SCALED;
}
