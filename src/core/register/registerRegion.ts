import { followDown, measureLeft, restrict } from "./followDown";
import { summarizeShifts } from "./judgeFit";
import { searchRegion } from "./localSearch";
import type { MotionModel } from "./models";
import { ACCEPT, CHECK_COLUMNS, plausible, type Pair, type PairRegistration } from "./pair";
import type { Matrix3 } from "../geometry/matrix3";

/** Models that a marked region can carry, the simplest first. A small region does not tell perspective. */
const REGION_MODELS: MotionModel[] = ["similarity", "affine", "homography"];

/** Only what is marked has to line up: the region is looked for by itself, then refined by itself. @param around fixed → moving where the frames roughly lie */
export function registerRegion(pair: Pair, around: Matrix3 | null): PairRegistration | null {
  const { fixed, moving, photometry, top, options } = pair;
  const regions = options.regions!;
  const candidates = searchRegion(fixed, moving, photometry, regions, around).map((c) => c.matrix);
  if (options.start) candidates.unshift(options.start);
  const from = Math.max(0, Math.min(top, Math.floor(Math.log2(Math.min(regions.bounds.width, regions.bounds.height) / 24))));
  const models = options.model === "auto" ? REGION_MODELS : [options.model];
  let best: PairRegistration | null = null;
  for (const start of candidates) {
    let matrix = start;
    for (const model of models) {
      const found = followDown(pair, model, restrict(model, matrix, fixed, moving), options.lens ?? null, from);
      if (!found || !plausible(found.matrix, fixed)) break;
      const shifts = measureLeft(pair, found.matrix, found.lens, CHECK_COLUMNS * 2);
      const agreement = summarizeShifts(shifts);
      const better =
        !best ||
        agreement.places > best.agreement.places * 1.08 + 0.5 ||
        (agreement.places >= best.agreement.places && agreement.residualPx < best.agreement.residualPx * 0.8 - 0.02);
      if (agreement.places >= 3 && agreement.agreeing >= ACCEPT.agreeing && better) best = { ...found, shifts, agreement, otherPx: [] };
      matrix = found.matrix;
    }
  }
  return best;
}
