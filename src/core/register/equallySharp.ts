import type { Lens } from "../geometry/lens";
import { atLevel, type Matrix3 } from "../geometry/matrix3";
import { blurPyramid, measureBlur } from "./matchBlur";
import type { Pair } from "./pair";

/** Blur of one frame against the other from which they are made alike, px at full size. */
const LEAST_BLUR = 1;
/** Scales, as log2, between which sharpness can be compared. */
const SAME_SCALE = 0.2;
/** Longest side at which it is measured. */
const BLUR_SIDE = 500;

/** The pair made equally sharp, where one frame is clearly more blurred: slopes that only one has pull the solution about. */
export function equallySharp(pair: Pair, matrix: Matrix3, lens: Lens | null): Pair {
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
  return { ...pair, places: undefined, [found.sharper]: made, finest: least, level: least };
}
