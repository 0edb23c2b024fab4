import type { Size } from "../geometry/lens";
import { project, type Matrix3 } from "../geometry/matrix3";
import { median } from "../numeric/statistics";
import { correspondencesOf } from "./judgeFit";
import type { LocalShift } from "./localShifts";
import { fitModel, type MotionModel } from "./models";

/** A map through places that were measured one by one. */
export interface PlacesFit {
  /** fixed → moving */
  matrix: Matrix3;
  /** RMS of what is left at the places that agree, px */
  residualPx: number;
  /** share of the places that agree, 0..1 */
  agreeing: number;
  places: number;
}

/** Places farther off than so many middles of what is left belong to something else; no place is asked to be nearer than this, px. Common practice, no source. */
const [MIDDLES, LEAST_PX] = [2.5, 0.4];
const ROUNDS = 6;
const FEWEST = 4;

/**
 * Fits one model to places that were each found by correlation, which light that lies still while a thing turns under it does not pull along as it pulls a fit of samples. Places that
 * belong to something else are left out, round after round.
 * @param matrix fixed → moving, under which the shifts were measured @returns null where too few places agree
 */
export function fitPlaces(model: MotionModel, shifts: LocalShift[], matrix: Matrix3, fixed: Size, moving: Size): PlacesFit | null {
  const all = correspondencesOf(shifts, matrix, null, moving);
  let kept = all;
  let fitted = matrix;
  for (let round = 0; round < ROUNDS; round++) {
    const fit = kept.length >= FEWEST ? fitModel(model, kept, fixed, moving, fitted) : null;
    if (!fit) return null;
    fitted = fit.matrix;
    const off = all.map(({ x, y, u, v }) => {
      const [a, b] = project(fitted, x, y);
      return Math.hypot(a - u, b - v);
    });
    const most = Math.max(LEAST_PX, MIDDLES * median(off));
    const next = all.filter((_, i) => off[i] <= most);
    const isSettled = next.length === kept.length && next.every((c, i) => c === kept[i]);
    kept = next;
    if (isSettled) break;
  }
  const squares = kept.reduce((sum, { x, y, u, v }) => {
    const [a, b] = project(fitted, x, y);
    return sum + (a - u) ** 2 + (b - v) ** 2;
  }, 0);
  return { matrix: fitted, residualPx: Math.sqrt(squares / kept.length), agreeing: kept.length / shifts.length, places: kept.length };
}
