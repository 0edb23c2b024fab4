import type { GroundCamera } from "./groundCamera";
import { smearReach } from "./smear";

/** Water smoothed as by a long exposure: what its surface shows within a patch becomes one. */
export interface Stilling {
  /** of a patch, metres: away from the camera, and across */
  lengthM: number;
  widthM: number;
  /** how far it smooths near the camera, px of the picture (1 standard deviation), at most */
  mostPx: number;
}

/** A box as wide as that has one standard deviation of 1. */
const BOX = Math.sqrt(12);
/** A step small beside a distance. */
const STEP = 0.01;

/**
 * How far what a px of level water shows is smeared, px (1 standard deviation): a patch of the surface as the camera sees it, so that far water is smoothed less.
 * @param levelM height of the water over the ground @returns no smear where no water can be seen
 */
export function stillPx(camera: GroundCamera, levelM: number, x: number, y: number, { lengthM, widthM, mostPx }: Stilling): { down: number; across: number } {
  const place = camera.placeAt(x, y, levelM);
  if (!place) return { down: 0, across: 0 };
  const distance = Math.max(1e-6, camera.distanceTo(place));
  const further = camera.pixelOf([place[0] * (1 + STEP), levelM, place[2] * (1 + STEP)]);
  const [rx, rz] = [place[2] / distance, -place[0] / distance];
  const beside = camera.pixelOf([place[0] + STEP * distance * rx, levelM, place[2] + STEP * distance * rz]);
  if (!further || !beside) return { down: 0, across: 0 };
  const perMetre = 1 / (STEP * distance);
  const down = (Math.hypot(further[0] - x, further[1] - y) * perMetre * lengthM) / BOX;
  const across = (Math.hypot(beside[0] - x, beside[1] - y) * perMetre * widthM) / BOX;
  return { down: Math.min(mostPx, down), across: Math.min(mostPx, across) };
}

/** Samples around a place that are looked at, at a level. */
export const stillReach = ({ mostPx }: Pick<Stilling, "mostPx">, level: number): number => smearReach(mostPx / 2 ** level);
