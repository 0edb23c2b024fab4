import { foldRadius, type Lens } from "../geometry/lens";
import { atLevel, fromLevels, project, type Matrix3 } from "../geometry/matrix3";
import { searchCoarse, localZScore } from "./coarseSearch";
import { detectFeatures, type Feature } from "./features/detectFeatures";
import { findHomographies } from "./features/findHomographies";
import { matchFeatures } from "./features/matchFeatures";
import { blurPyramid, measureBlur } from "./matchBlur";
import { coarsestLevel, levelOf, type GreyPyramid } from "./greyPyramid";
import { agrees, correspondencesOf, summarizeShifts, type Agreement } from "./judgeFit";
import { measureLocalShifts, type LocalShift } from "./localShifts";
import { searchRegion } from "./localSearch";
import { compareModels, errorElsewhere, fitModel, type Correspondence, type ModelChoice, type MotionModel } from "./models";
import { createPhotometry, lookUp, USABLE_HIGH, USABLE_LOW, type Photometry } from "./photometry";
import { refine, type Refinement } from "./refine";
import type { RegionMask } from "./regions";
import { mapFloats } from "../numeric/mapFloats";

export interface PairRegistration {
  /** fixed → undistorted moving, full size */
  matrix: Matrix3;
  lens: Lens | null;
  model: MotionModel;
  information: Float64Array;
  shifts: LocalShift[];
  agreement: Agreement;
}

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

const BUDGET = 24000;
/** Columns of places looked at to accept a pair; the final figures use more. */
const CHECK_COLUMNS = 12;
/** What is accepted as the same scene, so that unrelated photographs do not pass; `scripts/bench unrelated` counts. */
const ACCEPT = { agreeing: 0.3, places: 6, middleAgreeing: 0.4, middlePlaces: 8, elsewherePx: 1.2 };

function range(from: number, to: number, step: number): number[] {
  return Array.from({ length: Math.round((to - from) / step) + 1 }, (_, i) => from + i * step);
}

interface Start {
  matrix: Matrix3;
  lens: Lens | null;
  agreement: Agreement;
}

/**
 * Registers two frames of one scene without knowing anything but their relative exposure: shifts first, then features, then turns
 * and scales; the best start is followed down to full size.
 * @param relativeEv exposure of moving against fixed, EV
 * @returns null where the frames do not show the same scene
 */
export function registerPair(fixed: GreyPyramid, moving: GreyPyramid, relativeEv: number, options: PairOptions): PairRegistration | null {
  const photometry = createPhotometry(relativeEv);
  const top = Math.min(coarsestLevel(fixed), coarsestLevel(moving));
  const finest = Math.min(options.finest ?? 0, top);
  const pair = { fixed, moving, relativeEv, photometry, top, finest, level: 0, options };
  if (options.regions?.pinned) return registerRegion(pair);
  if (options.start) return descend(pair, options.start, options.lens ?? null, Math.min(top, finest + 1));
  const effort = options.effort ?? 4;
  let best: Start | null = null;
  for (const starts of searches(pair, effort)) {
    for (const start of starts) {
      const trial = tryStart(pair, start.matrix, start.lens);
      if (trial && (!best || worth(trial) > worth(best))) best = trial;
      if (best && best.agreement.agreeing > 0.8 && best.agreement.places > 40) break;
    }
    if (best && !isGood(best) && best.agreement.agreeing > SOME) best = judgeAlike(pair, best);
    if (best && isGood(best)) {
      const found = descend(pair, best.matrix, best.lens, Math.max(finest, middleLevel(fixed, top)));
      if (found) return found;
    }
  }
  return null;
}

interface Pair {
  fixed: GreyPyramid;
  moving: GreyPyramid;
  relativeEv: number;
  photometry: Photometry;
  top: number;
  finest: number;
  /** at which what is left is measured */
  level: number;
  options: PairOptions;
}

/** Agreement below what is accepted, from which unequal sharpness may be what is in the way. */
const SOME = 0.12;

/** Blur of one frame against the other from which they are made alike, px at full size. */
const LEAST_BLUR = 1;
/** Scales, as log2, between which sharpness can be compared. */
const SAME_SCALE = 0.2;
/** Longest side at which it is measured. */
const BLUR_SIDE = 500;

/** The pair made equally sharp, where one frame is clearly more blurred: slopes that only one has pull the solution about. */
function alike(pair: Pair, matrix: Matrix3, lens: Lens | null): Pair {
  const { fixed, moving, photometry, top, finest } = pair;
  // a frame that is shown larger looks softer without being blurred
  const scale = Math.sqrt(Math.abs(matrix[0] * matrix[4] - matrix[1] * matrix[3]));
  if (Math.abs(Math.log2(scale)) > SAME_SCALE) return pair;
  const level = Math.min(top, Math.max(finest, Math.ceil(Math.log2(Math.max(fixed.width, fixed.height) / BLUR_SIDE))));
  const found = measureBlur(fixed, moving, photometry, atLevel(matrix, level), lens, level);
  if (!found || found.sigmaPx < LEAST_BLUR) return pair;
  // what is finer than the blur says nothing
  const least = Math.min(top, Math.max(finest, Math.floor(Math.log2(found.sigmaPx))));
  const made = blurPyramid(found.sharper === "fixed" ? fixed : moving, found.sigmaPx, least);
  return { ...pair, [found.sharper]: made, finest: least, level: least };
}

const isGood = ({ agreement }: Start) => agreement.agreeing >= ACCEPT.middleAgreeing && agreement.places >= ACCEPT.middlePlaces;

/** A start judged anew with both frames equally sharp. */
function judgeAlike(pair: Pair, start: Start): Start {
  const { fixed, moving, photometry, options, top } = alike(pair, start.matrix, start.lens);
  const middle = middleLevel(fixed, top);
  const shifts = measureLocalShifts(levelOf(fixed, middle), levelOf(moving, middle), photometry, atLevel(start.matrix, middle), {
    lens: start.lens,
    fixedLens: options.fixedLens,
    columns: CHECK_COLUMNS * 2,
    selection: options.regions?.atLevel(middle),
  });
  return { ...start, agreement: summarizeShifts(shifts) };
}

const worth = (s: Start) => s.agreement.places * s.agreement.agreeing;

interface Guess {
  matrix: Matrix3;
  lens: Lens | null;
}

/** Starts (fixed → moving, full size) in groups, each wider and slower than the one before. */
function* searches({ fixed, moving, photometry, options }: Pair, effort: number): Generator<Guess[]> {
  // each at its own coarsest level, so that a small frame beside a large one costs no more
  const [fixedLevel, movingLevel] = [coarsestLevel(fixed), coarsestLevel(moving)];
  const a = localZScore(levelOf(fixed, fixedLevel));
  const b = localZScore(levelOf(moving, movingLevel));
  const between = 2 ** (fixedLevel - movingLevel);
  // a frame of another size was either scaled as a whole or cropped
  const ratio = Math.max(moving.width, moving.height) / Math.max(fixed.width, fixed.height);
  const scales = (list: number[]) => (ratio === 1 ? list : [...list, ...list.map((s) => s * ratio)]);
  const coarse = (rotations: number[], list: number[]) =>
    searchCoarse(
      a,
      b,
      rotations,
      scales(list).map((s) => s * between),
    ).map((c) => ({ matrix: fromLevels(c.matrix, fixedLevel, movingLevel), lens: null }));
  yield coarse([0], [1]);
  if (effort < 2) return;
  yield fromFeatures(fixed, moving, photometry, mayBend(options));
  if (effort < 3) return;
  yield coarse(range(-10, 10, 2.5), [0.93, 1, 1.07]);
  if (effort < 4) return;
  yield coarse(range(-180, 170, 10), [0.85, 1, 1.18]);
}

const FEATURE_SIDE = 1100;

/** The features of a frame in px at full size. */
function featuresOf(pyramid: GreyPyramid, table: Float32Array): Feature[] {
  const level = Math.max(0, Math.min(coarsestLevel(pyramid), Math.ceil(Math.log2(Math.max(pyramid.width, pyramid.height) / FEATURE_SIDE))));
  const { width, height, data } = levelOf(pyramid, level);
  // clipped and black areas are held at the ends, so that they have no structure of their own
  const values = mapFloats(data, (v) => lookUp(table, Math.min(USABLE_HIGH, Math.max(USABLE_LOW, v))));
  const s = 2 ** level;
  return detectFeatures({ width, height, data: values }).map((f) => ({ ...f, x: (f.x + 0.5) * s - 0.5, y: (f.y + 0.5) * s - 0.5, sigma: f.sigma * s }));
}

/** Whether the lens is to be found out, not known or left alone. */
const mayBend = (options: PairOptions) => !options.lens && (options.model === "auto" || options.model === "radial");

function fromFeatures(fixed: GreyPyramid, moving: GreyPyramid, photometry: Photometry, withLens: boolean): Guess[] {
  const matches = matchFeatures(featuresOf(fixed, photometry.fixed), featuresOf(moving, photometry.moving));
  return findHomographies(matches, fixed, moving, withLens);
}

/** The level at which a start is judged: about 700 px or more on the longer side. */
function middleLevel(p: GreyPyramid, top: number): number {
  return Math.max(0, Math.min(top, Math.floor(Math.log2(Math.max(p.width, p.height) / 700))));
}

const GROWING: MotionModel[] = ["translation", "similarity", "affine", "homography"];
/** The model that is solved while nothing is decided: all a flat scene can do. */
const WIDEST: MotionModel = "homography";

/** Follows a start from the coarsest to a middle level and looks how much agrees there, without and with a lens. */
function tryStart(pair: Pair, start: Matrix3, startLens: Lens | null): Start | null {
  const { fixed, moving, photometry, top, options } = pair;
  const middle = middleLevel(fixed, top);
  let matrix: Matrix3 = atLevel(start, top);
  const kept = options.lens ?? startLens;
  for (let level = top; level >= middle; level--) {
    // few points carry few parameters: from a shift at the coarsest level to perspective; the model asked for comes at full size
    const model = GROWING[Math.min(GROWING.length - 1, top - level)];
    const selection = options.regions?.atLevel(level);
    const { fixedLens } = options;
    matrix = refine(levelOf(fixed, level), levelOf(moving, level), photometry, matrix, {
      model,
      budget: 8000,
      iterations: 30,
      selection,
      lens: kept,
      fixedLens,
    }).matrix;
    if (!plausible(matrix, levelOf(fixed, level))) return null;
    if (level > middle) matrix = atLevel(matrix, -1);
  }
  const f = levelOf(fixed, middle);
  const m = levelOf(moving, middle);
  const selection = options.regions?.atLevel(middle);
  const judge = (there: Matrix3, lens: Lens | null) =>
    summarizeShifts(measureLocalShifts(f, m, photometry, there, { lens, fixedLens: options.fixedLens, columns: CHECK_COLUMNS * 2, selection }));
  const plain: Start = { matrix: atLevel(matrix, -middle), lens: kept, agreement: judge(matrix, kept) };
  if (!mayBend(options) || plain.agreement.agreeing < 0.1) return plain;
  const bent = refine(f, m, photometry, matrix, {
    model: "radial",
    budget: 12000,
    iterations: 40,
    selection,
    lens: kept,
    fixedLens: options.fixedLens,
  });
  if (!bent.lens || foldRadius(bent.lens) < FOLD || !plausible(bent.matrix, f)) return plain;
  const withLens: Start = { matrix: atLevel(bent.matrix, -middle), lens: bent.lens, agreement: judge(bent.matrix, bent.lens) };
  if (kept || options.model === "radial") return worth(withLens) >= worth(plain) ? withLens : { ...plain, lens: kept ?? { k1: 0, k2: 0 } };
  return lensMatters(plain, withLens) ? withLens : plain;
}

/** No lens folds back within its own corners (radius 1). */
const FOLD = 1.05;

/** A lens is taken to differ where it is larger than noise makes it and more places agree, or agree clearly better. */
function lensMatters(plain: Start, bent: Start): boolean {
  if (Math.abs(bent.lens!.k1) < 0.0015) return false;
  const [p, b] = [plain.agreement, bent.agreement];
  return b.places > p.places * 1.1 + 3 || (b.places >= p.places && b.residualPx < p.residualPx * 0.7 - 0.03);
}

/** By how much more of the places have to agree once the frames are made equally sharp: light that changed looks like blur too. */
const CLEARLY_MORE = 0.03;

/** Follows a start down; where one frame is more blurred also with both made alike, and keeps what agrees better. */
function descend(pair: Pair, start: Matrix3, lens: Lens | null, coarsest: number): PairRegistration | null {
  const plain = descendOn(pair, start, lens, coarsest);
  const matched = alike(pair, start, lens);
  if (matched === pair) return plain;
  const soft = descendOn(matched, start, lens, coarsest);
  return !plain || (soft && soft.agreement.agreeing > plain.agreement.agreeing + CLEARLY_MORE) ? soft : plain;
}

function descendOn(pair: Pair, start: Matrix3, lens: Lens | null, coarsest: number): PairRegistration | null {
  const { fixed, moving, finest, options } = pair;
  const from = Math.max(finest, coarsest);
  const bent = lens !== null && !options.lens;
  const first: MotionModel = options.model === "auto" ? (bent ? "radial" : WIDEST) : options.model;
  let found = follow(pair, first, restrict(first, start, fixed, moving), bent ? lens : (options.lens ?? null), from);
  if (!found) return null;
  let shifts = measure(pair, found.matrix, found.lens, CHECK_COLUMNS);
  if (options.model === "auto") {
    const simpler = compareModels(correspondencesOf(shifts, found.matrix, found.lens, moving), fixed, moving, found.matrix, found.lens);
    if (simpler && simpler.proposed !== first) {
      const model = simpler.proposed;
      const fit = simpler.fits.find((f) => f.model === model)!;
      const again = follow(pair, model, fit.matrix, options.lens ?? null, finest);
      if (again) {
        const before = summarizeShifts(shifts);
        const shiftsAgain = measure(pair, again.matrix, again.lens, CHECK_COLUMNS);
        const after = summarizeShifts(shiftsAgain);
        if (after.places >= before.places * 0.97 && after.residualPx <= before.residualPx * 1.15 + 0.02) {
          found = { ...again, model };
          shifts = shiftsAgain;
        }
      }
    }
  }
  if (!plausible(found.matrix, fixed)) return null;
  const agreement = summarizeShifts(shifts);
  if (agreement.agreeing < ACCEPT.agreeing || agreement.places < ACCEPT.places) return null;
  // agreement in one part says little about a lens elsewhere; other models bend less, and figures tell what they leave
  if (found.model === "radial" && errorElsewhere(found, shifts.filter(agrees), fixed, moving, agreement.residualPx) > ACCEPT.elsewherePx) return null;
  return { matrix: found.matrix, lens: found.lens, model: found.model, information: found.information, shifts, agreement };
}

interface Followed extends Pick<Refinement, "matrix" | "lens" | "information"> {
  model: MotionModel;
}

/** Refines one model from a level down to the finest; the matrix is at full size. */
function follow(pair: Pair, model: MotionModel, start: Matrix3, startLens: Lens | null, from: number): Followed | null {
  const { fixed, moving, photometry, finest, options } = pair;
  let matrix: Matrix3 = atLevel(start, from);
  let lens = model === "radial" ? (startLens ?? { k1: 0, k2: 0 }) : startLens;
  let result: Refinement | null = null;
  for (let level = from; level >= finest; level--) {
    result = refine(levelOf(fixed, level), levelOf(moving, level), photometry, matrix, {
      model,
      budget: BUDGET,
      iterations: model === "radial" ? 40 : level === finest ? 10 : 15,
      lens,
      fixedLens: options.fixedLens,
      selection: options.regions?.atLevel(level),
    });
    lens = result.lens;
    matrix = level > finest ? atLevel(result.matrix, -1) : result.matrix;
  }
  if (!result) return null;
  return { matrix: atLevel(matrix, -finest), lens, information: result.information, model };
}

/** The nearest map of a simpler model, so that what it cannot express does not stay behind in its matrix. */
function restrict(model: MotionModel, start: Matrix3, fixed: GreyPyramid, moving: GreyPyramid): Matrix3 {
  if (model === "homography" || model === "radial") return start;
  const points: Correspondence[] = [];
  for (let j = 0; j <= 6; j++) {
    for (let i = 0; i <= 6; i++) {
      const [x, y] = [(i * (fixed.width - 1)) / 6, (j * (fixed.height - 1)) / 6];
      const [u, v] = project(start, x, y);
      points.push({ x, y, u, v });
    }
  }
  return fitModel(model, points, fixed, moving, start)?.matrix ?? start;
}

/** What is left, place by place, in px at full size; where one frame was blurred, at the level that blur leaves. */
function measure({ fixed, moving, photometry, options, level }: Pair, matrix: Matrix3, lens: Lens | null, columns: number): LocalShift[] {
  const shifts = measureLocalShifts(levelOf(fixed, level), levelOf(moving, level), photometry, atLevel(matrix, level), {
    lens,
    fixedLens: options.fixedLens,
    columns,
    selection: options.regions?.atLevel(level),
  });
  const s = 2 ** level;
  return level === 0 ? shifts : shifts.map((p) => ({ ...p, x: (p.x + 0.5) * s - 0.5, y: (p.y + 0.5) * s - 0.5, dx: p.dx * s, dy: p.dy * s }));
}

/** Models that a marked region can carry, the simplest first. A small region does not tell perspective. */
const REGION_MODELS: MotionModel[] = ["similarity", "affine", "homography"];

/** Only what is marked has to line up: the region is looked for by itself, then refined by itself. */
function registerRegion(pair: Pair): PairRegistration | null {
  const { fixed, moving, relativeEv, photometry, top, options } = pair;
  const regions = options.regions!;
  const whole = options.start ? null : registerPair(fixed, moving, relativeEv, { model: "similarity", finest: middleLevel(fixed, top), effort: 3 });
  const around = options.start ?? whole?.matrix ?? null;
  const candidates = searchRegion(fixed, moving, photometry, regions, around).map((c) => c.matrix);
  if (options.start) candidates.unshift(options.start);
  const from = Math.max(0, Math.min(top, Math.floor(Math.log2(Math.min(regions.bounds.width, regions.bounds.height) / 24))));
  const models = options.model === "auto" ? REGION_MODELS : [options.model];
  let best: PairRegistration | null = null;
  for (const start of candidates) {
    let matrix = start;
    for (const model of models) {
      const found = follow(pair, model, restrict(model, matrix, fixed, moving), options.lens ?? null, from);
      if (!found || !plausible(found.matrix, fixed)) break;
      const shifts = measure(pair, found.matrix, found.lens, CHECK_COLUMNS * 2);
      const agreement = summarizeShifts(shifts);
      const better =
        !best ||
        agreement.places > best.agreement.places * 1.08 + 0.5 ||
        (agreement.places >= best.agreement.places && agreement.residualPx < best.agreement.residualPx * 0.8 - 0.02);
      if (agreement.places >= 3 && agreement.agreeing >= ACCEPT.agreeing && better) best = { ...found, shifts, agreement };
      matrix = found.matrix;
    }
  }
  return best;
}

/** A registration that folds, mirrors or shrinks the frame beyond a factor of two is no registration. */
function plausible(m: Matrix3, size: { width: number; height: number }): boolean {
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
  return ratio > 0.2 && ratio < 5;
}
