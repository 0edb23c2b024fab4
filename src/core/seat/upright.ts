import type { Size } from "../geometry/lens";
import { cross, unit, type Vector3 } from "../panorama/camera";

/**
 * How a camera stands: which way is up, and how long its lens is. Axes of the camera: x right, y down, z ahead; px from its centre.
 */
export interface Stance {
  /** degrees upwards */
  pitchDeg: number;
  /** degrees clockwise, as the horizon lies in the picture */
  rollDeg: number;
  focalPx: number;
}

const RAD = Math.PI / 180;

/** Straight up, in the axes of the camera. */
export function upOf({ pitchDeg, rollDeg }: Stance): Vector3 {
  const [p, r] = [pitchDeg * RAD, rollDeg * RAD];
  return [Math.sin(r) * Math.cos(p), -Math.cos(r) * Math.cos(p), Math.sin(p)];
}

/** The axes of the world in those of the camera: level to the right, straight up, level ahead. */
export function worldAxes(stance: Stance): { right: Vector3; up: Vector3; ahead: Vector3 } {
  const up = upOf(stance);
  const right = unit(cross([0, 0, 1], up));
  return { right, up, ahead: cross(up, right) };
}

/** Where the horizon runs through the left and the right edge of a picture, px with pixel centres at integers. */
export function horizonEnds(stance: Stance, { width, height }: Size): [[number, number], [number, number]] {
  // what is seen there is square to what is up
  const [a, b, c] = upOf(stance);
  const [cx, cy] = [(width - 1) / 2, (height - 1) / 2];
  const at = (x: number): [number, number] => [x, cy - (a * (x - cx) + c * stance.focalPx) / b];
  return [at(0), at(width - 1)];
}

/** Px that shows a direction given in the axes of the camera, or the one straight behind it; null where it lies abeam. */
export function pixelOfLocal([x, y, z]: Vector3, focalPx: number, { width, height }: Size): [number, number] | null {
  return Math.abs(z) > 1e-3 ? [(x / z) * focalPx + (width - 1) / 2, (y / z) * focalPx + (height - 1) / 2] : null;
}

/** The stance of a camera whose horizon runs through two places. */
export function stanceThrough([x0, y0]: readonly [number, number], [x1, y1]: readonly [number, number], focalPx: number, { width, height }: Size): Stance {
  const [cx, cy] = [(width - 1) / 2, (height - 1) / 2];
  const p: Vector3 = [x0 - cx, y0 - cy, focalPx];
  const q: Vector3 = [x1 - cx, y1 - cy, focalPx];
  const n = unit(cross(p, q));
  const [x, y, z] = n[1] > 0 ? [-n[0], -n[1], -n[2]] : n;
  return { pitchDeg: Math.asin(Math.max(-1, Math.min(1, z))) / RAD, rollDeg: Math.atan2(x, -y) / RAD, focalPx };
}

/** How far two horizons lie apart within a picture, degrees: the most at its left edge, its middle and its right edge. */
export function horizonsApartDeg(a: readonly (readonly number[])[], b: readonly (readonly number[])[], focalPx: number): number {
  const apart = [0, 0.5, 1].map((s) => Math.abs(a[0][1] + s * (a[1][1] - a[0][1]) - b[0][1] - s * (b[1][1] - b[0][1])));
  return Math.max(...apart.map((px) => Math.atan(px / focalPx))) / RAD;
}
