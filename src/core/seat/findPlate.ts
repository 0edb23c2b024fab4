import type { Size } from "../geometry/lens";
import { gaussianBlur } from "../raster/blur";
import type { GreyLevel } from "../register/refine";
import { findHorizon, type FoundHorizon } from "./findHorizon";
import { findSegments } from "./findSegments";
import type { KnownFocal } from "./fitStance";

/** What a plate's lines tell: its horizon and lens, and the lines that do, px of the plate. */
export interface FoundPlate extends Omit<FoundHorizon, "belongs"> {
  lines: { ends: [number, number, number, number]; vanishing: number }[];
}

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
  const { belongs, stance, ...rest } = found;
  const up = (v: number) => (v + 0.5) * s - 0.5;
  const lines = segments.flatMap(({ x0, y0, x1, y1 }, i) =>
    belongs[i] < 0 ? [] : [{ ends: [up(x0), up(y0), up(x1), up(y1)] as [number, number, number, number], vanishing: belongs[i] }],
  );
  return { ...rest, stance: { ...stance, focalPx: stance.focalPx * s }, lines };
}
