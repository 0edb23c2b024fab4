import type { Lens } from "../geometry/lens";
import { atLevel, type Matrix3 } from "../geometry/matrix3";
import { equallySharp } from "./equallySharp";
import { followDown, measureLeft, restrict } from "./followDown";
import { coarsestLevel, type GreyPyramid } from "./greyPyramid";
import { agrees, correspondencesOf, summarizeShifts } from "./judgeFit";
import { compareModels, errorElsewhere, type MotionModel } from "./models";
import { decide } from "./otherSolutions";
import {
  ACCEPT,
  BY_FEATURES,
  CHECK_COLUMNS,
  isGood,
  judgeAt,
  judgedPlaces,
  middleLevel,
  mostAgrees,
  plausible,
  type Pair,
  type PairOptions,
  type PairRegistration,
  type Start,
} from "./pair";
import { createPhotometry } from "./photometry";
import { registerRegion } from "./registerRegion";
import { aroundAgreeing, searches, tryStart, worth } from "./starts";

/** Agreement below what is accepted, from which unequal sharpness may be what is in the way. */
const SOME = 0.12;

/** The model that is solved while nothing is decided: all a flat scene can do. */
const WIDEST: MotionModel = "homography";

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
  const pair: Pair = { fixed, moving, relativeEv, photometry, top, finest, level: 0, options };
  if (options.regions?.pinned) {
    const whole = () => registerPair(fixed, moving, relativeEv, { model: "similarity", finest: middleLevel(fixed, top), effort: 3 })?.matrix ?? null;
    return registerRegion(pair, options.start ?? whole());
  }
  if (options.start) return descend(pair, options.start, options.lens ?? null, Math.min(top, finest + 1));
  // where too little counts or has structure, no map could be accepted, however many were tried
  if (judgedPlaces(pair).length < ACCEPT.middlePlaces) return null;
  const effort = options.effort ?? 4;
  let best: Start | null = null;
  for (const starts of searches(pair, effort)) {
    for (const start of starts) {
      const trial = tryStart(pair, start);
      if (trial && (!best || worth(trial) > worth(best))) best = trial;
      if (best && best.agreement.agreeing > 0.8 && best.agreement.places > 40) break;
    }
    // what is judged with both frames equally sharp is compared so, too
    let judged = pair;
    if (best && !isGood(best) && best.agreement.agreeing > SOME) {
      judged = equallySharp(pair, best.matrix, best.lens);
      best = judgeAt(judged, atLevel(best.matrix, middleLevel(judged.fixed, judged.top)), best.lens, best.support);
    }
    if (best && isGood(best)) {
      const { start, otherPx } = decide(judged, best);
      const held = mostAgrees(start) ? pair : { ...pair, only: aroundAgreeing(pair, start) };
      const found = descend(held, start.matrix, start.lens, Math.max(finest, middleLevel(fixed, top)));
      if (found) return { ...found, otherPx };
    }
  }
  return null;
}

/** By how much more of the places have to agree once the frames are made equally sharp: light that changed looks like blur too. */
const CLEARLY_MORE = 0.03;

/** Follows a start down; where one frame is more blurred also with both made alike, and keeps what agrees better. */
function descend(pair: Pair, start: Matrix3, lens: Lens | null, coarsest: number): PairRegistration | null {
  const plain = descendOn(pair, start, lens, coarsest);
  const matched = equallySharp(pair, start, lens);
  if (matched === pair) return plain;
  const soft = descendOn(matched, start, lens, coarsest);
  return !plain || (soft && soft.agreement.agreeing > plain.agreement.agreeing + CLEARLY_MORE) ? soft : plain;
}

function descendOn(pair: Pair, start: Matrix3, lens: Lens | null, coarsest: number): PairRegistration | null {
  const { fixed, moving, finest, options } = pair;
  const from = Math.max(finest, coarsest);
  const bent = lens !== null && !options.lens;
  const first: MotionModel = options.model === "auto" ? (bent ? "radial" : WIDEST) : options.model;
  let found = followDown(pair, first, restrict(first, start, fixed, moving), bent ? lens : (options.lens ?? null), from);
  if (!found) return null;
  // few of many are told from chance by looking at more
  const columns = pair.only ? 2 * CHECK_COLUMNS : CHECK_COLUMNS;
  let shifts = measureLeft(pair, found.matrix, found.lens, columns);
  if (options.model === "auto") {
    const simpler = compareModels(correspondencesOf(shifts, found.matrix, found.lens, moving), fixed, moving, found.matrix, found.lens);
    if (simpler && simpler.proposed !== first) {
      const model = simpler.proposed;
      const fit = simpler.fits.find((f) => f.model === model)!;
      const again = followDown(pair, model, fit.matrix, options.lens ?? null, finest);
      if (again) {
        const before = summarizeShifts(shifts);
        const shiftsAgain = measureLeft(pair, again.matrix, again.lens, columns);
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
  const least = pair.only ? BY_FEATURES : ACCEPT;
  if (agreement.agreeing < least.agreeing || agreement.places < least.places) return null;
  // agreement in one part says little about a lens elsewhere, and nothing where most changed; other models bend less, and figures tell what they leave
  if ((found.model === "radial" || pair.only) && errorElsewhere(found, shifts.filter(agrees), fixed, moving, agreement.residualPx) > ACCEPT.elsewherePx)
    return null;
  return { matrix: found.matrix, lens: found.lens, model: found.model, information: found.information, shifts, agreement, otherPx: [] };
}
