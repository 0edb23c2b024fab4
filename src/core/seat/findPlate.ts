import type { Size } from "../geometry/lens";
import { gaussianBlur } from "../raster/blur";
import type { GreyLevel } from "../register/refine";
import { findHorizon, type FoundHorizon } from "./findHorizon";
import { findSegments } from "./findSegments";
import type { KnownFocal } from "./fitStance";

/** What a plate's lines tell of its horizon and its lens. */
export type FoundPlate = Omit<FoundHorizon, "belongs">;

/** Longest side that lines are looked for in, px: finer ones tell little more. */
export const PLATE_SIDE = 1400;
/** Blur before that, px: steps of a halved picture are no edges. */
const BLUR = 0.6;
const SHORTEST = 9;

/**
 * Horizon and lens of a plate by its straight edges.
 * @param grey encoded, 0..65535 @param size of the plate at full size @param known focal length at full size
 * @returns null where lines do not tell
 */
export function findPlate(grey: GreyLevel, size: Size, known: KnownFocal | null): FoundPlate | null {
  const { width, height } = grey;
  const plane = gaussianBlur({ data: Float32Array.from(grey.data), width, height }, BLUR);
  const s = Math.max(size.width / width, size.height / height);
  const segments = findSegments({ width, height, data: plane }, 257, SHORTEST);
  const found = findHorizon(segments, { width, height }, known && { ...known, px: known.px / s });
  if (!found) return null;
  const { stance, focalFrom, vanishing, horizonSigmaDeg, focalSigma } = found;
  return { stance: { ...stance, focalPx: stance.focalPx * s }, focalFrom, vanishing, horizonSigmaDeg, focalSigma };
}
