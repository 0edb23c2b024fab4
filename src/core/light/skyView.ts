import type { Size } from "../geometry/lens";
import type { Matrix3 } from "../geometry/matrix3";
import type { Vector3 } from "../panorama/camera";
import { worldAxes, type Stance } from "../seat/upright";

/** How the picture of a sky was taken, as far as its sky tells, and how it is turned and made larger over a plate. */
export interface SkyView {
  focalPx: number;
  /** the row of its own picture at which its horizon lies, in the middle; it may lie outside */
  horizonY: number;
  /** turned to the right and lifted, degrees, and larger than it would be seen */
  panDeg: number;
  liftDeg: number;
  times: number;
}

const RAD = Math.PI / 180;

/** How the camera of a sky stood, held level: its horizon tells how far up it looked. */
export const skyStance = ({ focalPx, horizonY }: SkyView, { height }: Size): Stance => ({
  pitchDeg: Math.atan((horizonY - (height - 1) / 2) / focalPx) / RAD,
  rollDeg: 0,
  focalPx,
});

/** Px of a sky's own picture → px of the plate that show the same direction. What is larger than it would be seen grows about where it meets the horizon. */
export function skyToPlate(view: SkyView, own: Size, stance: Stance, plate: Size): Matrix3 {
  const from = worldAxes(skyStance(view, own));
  const to = worldAxes(stance);
  const [cosP, sinP] = [Math.cos(view.panDeg * RAD), Math.sin(view.panDeg * RAD)];
  const [cosL, sinL] = [Math.cos(view.liftDeg * RAD), Math.sin(view.liftDeg * RAD)];
  const { times } = view;
  const [ox, oy] = [(own.width - 1) / 2, (own.height - 1) / 2];
  const [px, py] = [(plate.width - 1) / 2, (plate.height - 1) / 2];
  // a column for each of x, y and 1 of a px
  const columns = [
    [1, 0, 0],
    [0, 1, 0],
    [-ox, -oy, view.focalPx],
  ].map((local) => {
    const along = (axis: Vector3) => axis[0] * local[0] + axis[1] * local[1] + axis[2] * local[2];
    const [right, up, ahead] = [times * along(from.right), times * along(from.up), along(from.ahead)];
    const [lifted, level] = [up * cosL + ahead * sinL, ahead * cosL - up * sinL];
    const [x, z] = [right * cosP + level * sinP, level * cosP - right * sinP];
    const [cx, cy, cz] = [0, 1, 2].map((k) => x * to.right[k] + lifted * to.up[k] + z * to.ahead[k]);
    return [stance.focalPx * cx + px * cz, stance.focalPx * cy + py * cz, cz];
  });
  return [0, 1, 2].flatMap((row) => columns.map((column) => column[row]));
}

/** Places of a plate's sky that are looked at, across and down. */
const LOOKS = 32;

/** Share of what a plate shows above its horizon that a sky's own picture covers. @param toOwn px of the plate → px of that @param bottom its last row of sky */
export function coveredShare(toOwn: Matrix3, own: Size, bottom: number, plate: Size, isSky: (x: number, y: number) => boolean): number {
  let [covered, all] = [0, 0];
  for (let j = 0; j < LOOKS; j++) {
    for (let i = 0; i < LOOKS; i++) {
      const [x, y] = [((i + 0.5) / LOOKS) * plate.width - 0.5, ((j + 0.5) / LOOKS) * plate.height - 0.5];
      if (!isSky(x, y)) continue;
      all++;
      const w = toOwn[6] * x + toOwn[7] * y + toOwn[8];
      const [u, v] = [(toOwn[0] * x + toOwn[1] * y + toOwn[2]) / w, (toOwn[3] * x + toOwn[4] * y + toOwn[5]) / w];
      if (w > 0 && u >= -0.5 && v >= -0.5 && u <= own.width - 0.5 && v <= bottom + 0.5) covered++;
    }
  }
  return all ? covered / all : 1;
}
