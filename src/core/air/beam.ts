import { exp2 } from "../numeric/elementary";
import type { Vector3 } from "../panorama/camera";
import { clouds } from "./noise";

/** Light that is seen in the air on its way: a cone from a lamp, or the shaft of something far away. Metres. */
export interface Beam {
  /** where it begins, and which way it goes, of unit length */
  from: Vector3;
  along: Vector3;
  /** half of its width where it begins, and by how much that grows on each metre */
  radiusM: number;
  grows: number;
  /** how far it is seen */
  reachM: number;
  /** how much of its width its border takes, 0..1 */
  soft: number;
  /** dust in it: how uneven, 0..1, and how large the clouds are */
  dusty: number;
  cloudM: number;
  seed: number;
  /** whether it thins out with the square of the way, as the light of a lamp does */
  spreads: boolean;
}

/** Places of a ray at which a beam is looked at. */
const LOOKS = 24;

/**
 * How much of a beam a ray passes, metres of it at full strength.
 * @param eye where the ray begins @param dx, dy, dz its direction, of unit length @param farM where it ends
 * @param open how much of the beam's light comes to a place past what stands in it, 0..1
 */
export function beamAlong(
  beam: Beam,
  eye: Vector3,
  dx: number,
  dy: number,
  dz: number,
  farM: number,
  open: ((x: number, y: number, z: number) => number) | null = null,
): number {
  const { from, along, radiusM, grows, reachM, soft, dusty, cloudM, seed, spreads } = beam;
  // where the ray is within the reach of the beam's middle line at all
  const widest = radiusM + grows * reachM;
  const [mx, my, mz] = [0, 1, 2].map((k) => from[k] + (along[k] * reachM) / 2 - eye[k]);
  const middle = mx * dx + my * dy + mz * dz;
  const aside = mx * mx + my * my + mz * mz - middle * middle;
  const ball = reachM / 2 + widest;
  if (aside > ball * ball) return 0;
  const half = Math.sqrt(ball * ball - aside);
  const start = Math.max(0, middle - half);
  const end = Math.min(farM, middle + half);
  if (end <= start) return 0;
  const step = (end - start) / LOOKS;
  let sum = 0;
  for (let k = 0; k < LOOKS; k++) {
    const t = start + (k + 0.5) * step;
    const px = eye[0] + t * dx - from[0];
    const py = eye[1] + t * dy - from[1];
    const pz = eye[2] + t * dz - from[2];
    const way = px * along[0] + py * along[1] + pz * along[2];
    if (way <= 0 || way >= reachM) continue;
    const off = Math.sqrt(Math.max(0, px * px + py * py + pz * pz - way * way));
    const wide = radiusM + grows * way;
    const rim = (wide - off) / Math.max(1e-4, soft * wide);
    if (rim <= 0) continue;
    const inside = rim >= 1 ? 1 : rim * rim * (3 - 2 * rim);
    const dust = dusty > 0 ? Math.max(0, 1 + 2 * dusty * clouds(eye[0] + t * dx, eye[1] + t * dy, eye[2] + t * dz, cloudM, seed)) : 1;
    // it ends gently, and a lamp's thins out
    const ends = 1 - (way / reachM) ** 2;
    const thin = spreads ? (radiusM / wide) ** 2 : exp2(-way / reachM);
    const comes = open ? open(eye[0] + t * dx, eye[1] + t * dy, eye[2] + t * dz) : 1;
    sum += inside * dust * ends * thin * comes;
  }
  return sum * step;
}
