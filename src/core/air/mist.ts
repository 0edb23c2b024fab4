import { exp2 } from "../numeric/elementary";
import { clouds } from "./noise";

/** Air that hides what is far: all of it evenly, or the more the lower, where it lies on the ground. */
export interface Mist {
  /** how far one sees in it, metres: there a fiftieth of the contrast is left */
  visibleM: number;
  /** how high over the ground it is half as thick, metres; null: it fills the air */
  halfHeightM: number | null;
  /** how uneven it is, 0..1, and how large its clouds are, metres */
  patchy: number;
  cloudM: number;
  seed: number;
}

/** Contrast that is left at the end of what is visible. @see Koschmieder 1924; WMO No. 8: ln(1/0.02) = 3.912 */
const LOG2_FIFTIETH = Math.log2(50);
/** Places along a ray at which clouds are looked at. */
const LOOKS = 5;

/**
 * How much light comes through from so far along a ray, 0..1. @param heightM of the camera @param dy how much the ray rises, of unit length @param farM how far
 * @param thicker by how much the air there is, as `unevenness` tells; 1 on the whole
 */
export function clearness({ visibleM, halfHeightM }: Pick<Mist, "visibleM" | "halfHeightM">, heightM: number, dy: number, farM: number, thicker = 1): number {
  const perMetre = LOG2_FIFTIETH / visibleM;
  let halvings: number;
  if (halfHeightM === null) halvings = perMetre * farM;
  else {
    // the integral of 2^(−height / half) along the ray
    const start = exp2(-heightM / halfHeightM);
    const turns = (dy * farM) / halfHeightM;
    halvings = perMetre * start * (Math.abs(turns) < 1e-4 ? farM : (farM * (1 - exp2(-turns))) / (turns * Math.LN2));
  }
  return exp2(-Math.min(60, halvings * thicker));
}

/** How much thicker than on the whole the air is along a ray: 1 where it is even. @param dx, dy, dz the ray's direction, of unit length */
export function unevenness(
  { patchy, cloudM, seed }: Pick<Mist, "patchy" | "cloudM" | "seed">,
  heightM: number,
  dx: number,
  dy: number,
  dz: number,
  farM: number,
): number {
  if (patchy === 0) return 1;
  // nearer clouds are looked at more closely; far ones even out
  let sum = 0;
  for (let k = 0; k < LOOKS; k++) {
    const t = farM * ((k + 0.5) / LOOKS) ** 2;
    sum += clouds(t * dx, heightM + t * dy, t * dz, cloudM, seed);
  }
  return Math.max(0, 1 + (2 * patchy * sum) / LOOKS);
}
