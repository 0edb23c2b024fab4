import { foldRadius, type Lens } from "../geometry/lens";
import { atLevel, fromLevels, type Matrix3 } from "../geometry/matrix3";
import { mapFloats } from "../numeric/mapFloats";
import { localZScore, searchCoarse } from "./coarseSearch";
import { detectFeatures, type Feature } from "./features/detectFeatures";
import { findHomographies } from "./features/findHomographies";
import { matchFeatures } from "./features/matchFeatures";
import { coarsestLevel, levelOf, type GreyPyramid } from "./greyPyramid";
import type { MotionModel } from "./models";
import { agrees } from "./judgeFit";
import { HALF } from "./localShifts";
import { BY_FEATURES, countingAt, isGood, judgeAt, mayBend, middleLevel, mostAgrees, plausible, type Pair, type Start } from "./pair";
import { lookUp, USABLE_HIGH, USABLE_LOW, type Photometry } from "./photometry";
import { refine } from "./refine";
import { RegionMask, type Region } from "./regions";

function range(from: number, to: number, step: number): number[] {
  return Array.from({ length: Math.round((to - from) / step) + 1 }, (_, i) => from + i * step);
}

export interface Guess {
  matrix: Matrix3;
  lens: Lens | null;
  /** features that agree with it */
  support: number;
}

/** Longest side at the coarsest level at which turns are tried, px. */
const MOST_TURNED = 300;

/** Starts (fixed → moving, full size) in groups, each wider and slower than the one before. */
export function* searches({ fixed, moving, photometry, options }: Pair, effort: number): Generator<Guess[]> {
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
    ).map((c) => ({ matrix: fromLevels(c.matrix, fixedLevel, movingLevel), lens: null, support: 0 }));
  yield coarse([0], [1]);
  if (effort < 2) return;
  yield fromFeatures(fixed, moving, photometry, mayBend(options));
  // a strip that cannot be made small shows no turn, and trying all of them would take minutes
  if (effort < 3 || Math.max(a.width, a.height, b.width, b.height) > MOST_TURNED) return;
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

function fromFeatures(fixed: GreyPyramid, moving: GreyPyramid, photometry: Photometry, withLens: boolean): Guess[] {
  const matches = matchFeatures(featuresOf(fixed, photometry.fixed), featuresOf(moving, photometry.moving));
  return findHomographies(matches, fixed, moving, withLens);
}

export const GROWING: MotionModel[] = ["translation", "similarity", "affine", "homography"];

/** Follows a guess from the coarsest to a middle level and looks how much agrees there, without and with a lens. */
export function tryStart(pair: Pair, guess: Guess): Start | null {
  const followed = followGuess(pair, guess);
  if (guess.support < BY_FEATURES.support || (followed && mostAgrees(followed))) return followed;
  const direct = fromAgreeing(pair, guess);
  return direct && (!followed || worth(direct) > worth(followed)) ? direct : followed;
}

/** A guess that many features share, refined on what agrees around it: coarse levels would be led by what changed. */
function fromAgreeing(pair: Pair, guess: Guess): Start | null {
  const { fixed, moving, photometry, top, options } = pair;
  const middle = middleLevel(fixed, top);
  const lens = options.lens ?? guess.lens;
  if (!plausible(guess.matrix, fixed)) return null;
  const there = atLevel(guess.matrix, middle);
  const before = judgeAt(pair, there, lens, guess.support);
  if (!isGood(before)) return before;
  const selection = countingAt({ ...pair, only: aroundAgreeing(pair, before) }, middle);
  const more = { budget: 8000, iterations: 20, selection, lens, fixedLens: options.fixedLens };
  const { matrix } = refine(levelOf(fixed, middle), levelOf(moving, middle), photometry, there, { model: "homography", ...more });
  const after = plausible(matrix, levelOf(fixed, middle)) ? judgeAt(pair, matrix, lens, guess.support) : before;
  return worth(after) >= worth(before) ? after : before;
}

/** What lies around the places of the fixed frame that agree, a patch each. */
export function aroundAgreeing({ fixed, top }: Pair, { shifts }: Start): RegionMask {
  const s = 2 ** middleLevel(fixed, top);
  const side = (2 * HALF + 1) * s;
  const boxes = shifts.filter(agrees).map(({ x, y }): Region => ({
    purpose: "lineUp",
    shape: { kind: "box", rectangle: { x: (x + 0.5) * s - side / 2, y: (y + 0.5) * s - side / 2, width: side, height: side } },
  }));
  return new RegionMask(boxes, fixed.width, fixed.height);
}

function followGuess(pair: Pair, { matrix: start, lens: startLens, support }: Guess): Start | null {
  const { fixed, moving, photometry, top, options } = pair;
  const middle = middleLevel(fixed, top);
  let matrix: Matrix3 = atLevel(start, top);
  const kept = options.lens ?? startLens;
  for (let level = top; level >= middle; level--) {
    // few points carry few parameters: from a shift at the coarsest level to perspective; the model asked for comes at full size
    const model = GROWING[Math.min(GROWING.length - 1, top - level)];
    const selection = countingAt(pair, level);
    const { fixedLens } = options;
    matrix = refine(levelOf(fixed, level), levelOf(moving, level), photometry, matrix, {
      model,
      budget: 8000,
      iterations: 30,
      selection,
      lens: kept,
      fixedLens,
      isTrial: true,
    }).matrix;
    if (!plausible(matrix, levelOf(fixed, level))) return null;
    if (level > middle) matrix = atLevel(matrix, -1);
  }
  const f = levelOf(fixed, middle);
  const m = levelOf(moving, middle);
  const selection = countingAt(pair, middle);
  const plain = judgeAt(pair, matrix, kept, support);
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
  const withLens = judgeAt(pair, bent.matrix, bent.lens, support);
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

export const worth = (s: Start) => s.agreement.places * s.agreement.agreeing;
