import { atLevel, project, type Matrix3 } from "../geometry/matrix3";
import { searchCoarse, localZScore } from "./coarseSearch";
import { coarsestLevel, levelOf, type GreyPyramid } from "./greyPyramid";
import { measureLocalShifts, type LocalShift } from "./localShifts";
import { createPhotometry, type Photometry } from "./photometry";
import { refine, type MotionModel, type Refinement } from "./refine";

export interface PairRegistration {
  /** fixed → moving, full size */
  matrix: Matrix3;
  information: Float64Array;
  shifts: LocalShift[];
  agreement: Agreement;
}

export interface Agreement {
  /** share of measured places whose remaining shift is below the limit and whose content correlates */
  agreeing: number;
  /** RMS of the remaining shift over the agreeing places, px at full size */
  residualPx: number;
  /** number of agreeing places */
  places: number;
}

const AGREE_PX = 1.5;
const AGREE_CORRELATION = 0.6;

export function summarizeShifts(shifts: LocalShift[]): Agreement {
  let sum = 0;
  let places = 0;
  for (const s of shifts) {
    if (!agrees(s)) continue;
    places++;
    sum += s.dx * s.dx + s.dy * s.dy;
  }
  return { agreeing: shifts.length ? places / shifts.length : 0, residualPx: places ? Math.sqrt(sum / places) : 0, places };
}

export function agrees(s: LocalShift): boolean {
  return s.correlation >= AGREE_CORRELATION && Math.hypot(s.dx, s.dy) <= AGREE_PX;
}

const BUDGET = 24000;
/** Columns of places looked at to accept a pair; the final figures use more. */
const CHECK_COLUMNS = 12;
/** Searches tried in turn until one gives a plausible start: rotations in degrees, scales. */
const SEARCHES: { rotations: number[]; scales: number[] }[] = [
  { rotations: [0], scales: [1] },
  { rotations: range(-10, 10, 2.5), scales: [0.93, 1, 1.07] },
  { rotations: range(-45, 45, 5), scales: [0.85, 1, 1.18] },
];

function range(from: number, to: number, step: number): number[] {
  return Array.from({ length: Math.round((to - from) / step) + 1 }, (_, i) => from + i * step);
}

/**
 * Registers two frames of one scene without knowing anything but their relative exposure.
 * @param relativeEv exposure of moving against fixed, EV
 * @param start fixed → moving at full size where a good guess is known (from a chain)
 * @param options.searches how many searches to try, each wider and slower than the one before; all by default
 * @returns null where the frames do not show the same scene
 */
export function registerPair(
  fixed: GreyPyramid,
  moving: GreyPyramid,
  relativeEv: number,
  options: { model: MotionModel; start?: Matrix3; finest?: number; searches?: number },
): PairRegistration | null {
  const photometry = createPhotometry(relativeEv);
  const top = Math.min(coarsestLevel(fixed), coarsestLevel(moving));
  const finest = Math.min(options.finest ?? 0, top);
  if (options.start) return descend(fixed, moving, photometry, options.start, Math.min(top, finest + 1), finest, options.model);
  const a = localZScore(levelOf(fixed, top));
  const b = localZScore(levelOf(moving, top));
  for (const search of SEARCHES.slice(0, options.searches)) {
    // a frame of another size was either scaled as a whole or cropped
    const ratio = Math.max(moving.width, moving.height) / Math.max(fixed.width, fixed.height);
    const scales = ratio === 1 ? search.scales : [...search.scales, ...search.scales.map((scale) => scale * ratio)];
    const candidates = searchCoarse(a, b, search.rotations, scales);
    let best: { matrix: Matrix3; agreement: Agreement } | null = null;
    for (const candidate of candidates) {
      const trial = trySearch(fixed, moving, photometry, candidate.matrix, top, options.model);
      if (trial && (!best || trial.agreement.places * trial.agreement.agreeing > best.agreement.places * best.agreement.agreeing)) best = trial;
      if (best && best.agreement.agreeing > 0.8 && best.agreement.places > 40) break;
    }
    if (best && best.agreement.agreeing >= 0.4 && best.agreement.places >= 8) {
      const found = descend(fixed, moving, photometry, best.matrix, Math.max(finest, middleLevel(fixed, top)), finest, options.model);
      if (found) return found;
    }
  }
  return null;
}

/** The level at which a start is judged: about 700 px or more on the longer side. */
function middleLevel(p: GreyPyramid, top: number): number {
  return Math.max(0, Math.min(top, Math.floor(Math.log2(Math.max(p.width, p.height) / 700))));
}

const LADDER: MotionModel[] = ["translation", "similarity", "affine", "homography"];

/** Follows a coarse candidate down to a middle level and looks how much agrees there. */
function trySearch(fixed: GreyPyramid, moving: GreyPyramid, photometry: Photometry, start: Matrix3, top: number, model: MotionModel) {
  let matrix = start;
  const middle = middleLevel(fixed, top);
  for (let level = top; level >= middle; level--) {
    // few points carry few parameters: from shift at the coarsest level to the model asked for
    const simple = LADDER[Math.min(LADDER.indexOf(model), top - level)];
    const result = refine(levelOf(fixed, level), levelOf(moving, level), photometry, matrix, { model: simple, budget: 8000, iterations: 30 });
    matrix = result.matrix;
    if (!plausible(matrix, levelOf(fixed, level))) return null;
    if (level > middle) matrix = atLevel(matrix, -1);
  }
  const shifts = measureLocalShifts(levelOf(fixed, middle), levelOf(moving, middle), photometry, matrix, CHECK_COLUMNS);
  const full = atLevel(matrix, -middle);
  return { matrix: full, agreement: summarizeShifts(shifts) };
}

function descend(
  fixed: GreyPyramid,
  moving: GreyPyramid,
  photometry: Photometry,
  start: Matrix3,
  from: number,
  to: number,
  model: MotionModel,
): PairRegistration | null {
  let result: Refinement | null = null;
  let matrix: Matrix3 = atLevel(start, from);
  for (let level = from; level >= to; level--) {
    result = refine(levelOf(fixed, level), levelOf(moving, level), photometry, matrix, { model, budget: BUDGET, iterations: level === to ? 10 : 15 });
    matrix = level > to ? atLevel(result.matrix, -1) : result.matrix;
  }
  if (!result) return null;
  const full = atLevel(matrix, -to);
  if (!plausible(full, fixed)) return null;
  const shifts = measureLocalShifts(levelOf(fixed, 0), levelOf(moving, 0), photometry, full, CHECK_COLUMNS);
  const agreement = summarizeShifts(shifts);
  if (agreement.agreeing < 0.3 || agreement.places < 6) return null;
  return { matrix: full, information: result.information, shifts, agreement };
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
  return ratio > 0.4 && ratio < 2.5;
}

/** RMS displacement of a registration over the frame, px: how far off the frames were. */
export function displacementPx(m: Matrix3, width: number, height: number): number {
  let sum = 0;
  let n = 0;
  for (let j = 0; j <= 8; j++) {
    for (let i = 0; i <= 8; i++) {
      const x = (i * (width - 1)) / 8;
      const y = (j * (height - 1)) / 8;
      const [u, v] = project(m, x, y);
      sum += (u - x) ** 2 + (v - y) ** 2;
      n++;
    }
  }
  return Math.sqrt(sum / n);
}
