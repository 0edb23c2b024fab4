import type { Size } from "../geometry/lens";
import { multiply, transform, type Matrix3 } from "../geometry/matrix3";

/**
 * A camera that turned about one point. World axes: x right, y down, z forward. Radial distortion, undistorted → distorted:
 * r' = r (1 + k1 r² + k2 r⁴), r from the centre in focal lengths.
 */
export interface Camera extends Size {
  /** camera → world, orthonormal */
  rotation: Matrix3;
  focalPx: number;
  k1: number;
  k2: number;
  /** optical centre from the frame's centre, px */
  shiftX: number;
  shiftY: number;
}

export type Vector3 = [number, number, number];

/** Degrees: yaw to the right, pitch upwards, roll clockwise as seen from behind the camera. */
export interface Attitude {
  yawDeg: number;
  pitchDeg: number;
  rollDeg: number;
}

const RAD = Math.PI / 180;

export function transpose(m: Matrix3): Matrix3 {
  return [m[0], m[3], m[6], m[1], m[4], m[7], m[2], m[5], m[8]];
}

/** Rotation about an axis by its length in radians. @see Rodrigues' formula */
export function rotationAbout(x: number, y: number, z: number): Matrix3 {
  const angle = Math.hypot(x, y, z);
  if (angle < 1e-15) return [1, -z, y, z, 1, -x, -y, x, 1];
  const [a, b, c] = [x / angle, y / angle, z / angle];
  const s = Math.sin(angle);
  const v = 1 - Math.cos(angle);
  const k = 1 - v;
  return [
    k + a * a * v,
    a * b * v - c * s,
    a * c * v + b * s,
    a * b * v + c * s,
    k + b * b * v,
    b * c * v - a * s,
    a * c * v - b * s,
    b * c * v + a * s,
    k + c * c * v,
  ];
}

export function rotationOf({ yawDeg, pitchDeg, rollDeg }: Attitude): Matrix3 {
  return multiply(multiply(rotationAbout(0, yawDeg * RAD, 0), rotationAbout(pitchDeg * RAD, 0, 0)), rotationAbout(0, 0, rollDeg * RAD));
}

export function attitudeOf(m: Matrix3): Attitude {
  const pitch = Math.asin(Math.max(-1, Math.min(1, -m[5])));
  return { yawDeg: Math.atan2(m[2], m[8]) / RAD, pitchDeg: pitch / RAD, rollDeg: Math.atan2(m[3], m[4]) / RAD };
}

/** The nearest orthonormal matrix to one that is nearly so. */
export function orthonormal(m: Matrix3): Matrix3 {
  const x = unit([m[0], m[3], m[6]]);
  const along = m[1] * x[0] + m[4] * x[1] + m[7] * x[2];
  const y = unit([m[1] - along * x[0], m[4] - along * x[1], m[7] - along * x[2]]);
  const z = cross(x, y);
  return [x[0], y[0], z[0], x[1], y[1], z[1], x[2], y[2], z[2]];
}

export function unit([x, y, z]: Vector3): Vector3 {
  // square roots here and below: hypot takes several times as long
  const length = Math.sqrt(x * x + y * y + z * z) || 1;
  return [x / length, y / length, z / length];
}

export const cross = (a: Vector3, b: Vector3): Vector3 => [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]];
export const dot = (a: Vector3, b: Vector3): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];

/** Angle between two orientations, degrees. */
export function angleBetween(a: Matrix3, b: Matrix3): number {
  const d = multiply(transpose(a), b);
  // half the skew part is the sine of the angle about its axis: exact for small angles, where the trace is not
  const s = Math.hypot(d[7] - d[5], d[2] - d[6], d[3] - d[1]) / 2;
  return Math.atan2(s, (d[0] + d[4] + d[8] - 1) / 2) / RAD;
}

/** Unit direction in the camera's own axes of a px of the frame. */
export function localRay(c: Camera, x: number, y: number): Vector3 {
  const u = (x - (c.width - 1) / 2 - c.shiftX) / c.focalPx;
  const v = (y - (c.height - 1) / 2 - c.shiftY) / c.focalPx;
  const distorted = Math.sqrt(u * u + v * v);
  let r = distorted;
  if (c.k1 !== 0 || c.k2 !== 0) {
    // beyond where the lens folds there is no answer, and r stays at the largest that was tried
    const most = 1.6 * distorted + 0.1;
    for (let pass = 0; pass < 12; pass++) {
      const r2 = r * r;
      const step = (r * (1 + c.k1 * r2 + c.k2 * r2 * r2) - distorted) / Math.max(0.05, 1 + 3 * c.k1 * r2 + 5 * c.k2 * r2 * r2);
      r = Math.max(0, Math.min(most, r - step));
      if (Math.abs(step) < 1e-12) break;
    }
  }
  const f = distorted > 0 ? r / distorted : 1;
  return unit([u * f, v * f, 1]);
}

/** Unit direction in the world of a px of the frame. */
export function rayOf(c: Camera, x: number, y: number): Vector3 {
  return transform(c.rotation, localRay(c, x, y));
}

/** Px of the frame that sees a direction; null behind the camera or beyond where the lens folds. */
export function pixelOf(c: Camera, ray: readonly number[]): [number, number] | null {
  const m = c.rotation;
  const z = m[2] * ray[0] + m[5] * ray[1] + m[8] * ray[2];
  if (z <= 0.02) return null;
  const u = (m[0] * ray[0] + m[3] * ray[1] + m[6] * ray[2]) / z;
  const v = (m[1] * ray[0] + m[4] * ray[1] + m[7] * ray[2]) / z;
  const r2 = u * u + v * v;
  const slope = 1 + r2 * (3 * c.k1 + 5 * c.k2 * r2);
  if (slope <= 0.02) return null;
  const f = c.focalPx * (1 + r2 * (c.k1 + c.k2 * r2));
  return [(c.width - 1) / 2 + c.shiftX + u * f, (c.height - 1) / 2 + c.shiftY + v * f];
}

/** Where frame b shows what frame a shows at x, y; null where it cannot. */
export function between(a: Camera, b: Camera, x: number, y: number): [number, number] | null {
  return pixelOf(b, rayOf(a, x, y));
}

/** Whether a px lies on the frame. @param margin px from the border */
export function inside(c: Size, [x, y]: readonly [number, number], margin = 0): boolean {
  return x >= margin && y >= margin && x <= c.width - 1 - margin && y <= c.height - 1 - margin;
}

/** Share of frame a that frame b shows too, on a grid of 16×16. */
export function overlapOf(a: Camera, b: Camera): number {
  const N = 16;
  let seen = 0;
  for (let j = 0; j < N; j++) {
    for (let i = 0; i < N; i++) {
      const p = between(a, b, ((i + 0.5) * a.width) / N - 0.5, ((j + 0.5) * a.height) / N - 0.5);
      if (p && inside(b, p)) seen++;
    }
  }
  return seen / (N * N);
}
