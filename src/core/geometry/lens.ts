import { project, type Matrix3 } from "./matrix3";

/**
 * Radial distortion, undistorted → distorted: r' = r (1 + k1 r² + k2 r⁴), r from the frame's centre in half-diagonals.
 * Negative k1 is a barrel, positive a cushion. @see Brown 1966, "Decentering distortion of lenses" (radial terms)
 */
export interface Lens {
  k1: number;
  k2: number;
}

export interface Size {
  width: number;
  height: number;
}

export const hasLens = (lens: Lens | null | undefined): lens is Lens => !!lens && (lens.k1 !== 0 || lens.k2 !== 0);

/** Undistorted px → px of the frame as shot. */
export function distort(lens: Lens | null | undefined, size: Size, x: number, y: number): [number, number] {
  if (!hasLens(lens)) return [x, y];
  const cx = (size.width - 1) / 2;
  const cy = (size.height - 1) / 2;
  const [u, v] = [x - cx, y - cy];
  const r2 = (4 * (u * u + v * v)) / (size.width * size.width + size.height * size.height);
  const f = 1 + r2 * (lens.k1 + r2 * lens.k2);
  return [cx + u * f, cy + v * f];
}

/** Px of the frame as shot → undistorted px; Newton's method on the radius, exact to 1e-9 where the lens does not fold. */
export function undistort(lens: Lens | null | undefined, size: Size, x: number, y: number): [number, number] {
  if (!hasLens(lens)) return [x, y];
  const cx = (size.width - 1) / 2;
  const cy = (size.height - 1) / 2;
  const half = Math.hypot(size.width, size.height) / 2;
  const distorted = Math.hypot(x - cx, y - cy) / half;
  if (distorted === 0) return [x, y];
  let r = distorted;
  for (let pass = 0; pass < 20; pass++) {
    const r2 = r * r;
    const slope = 1 + 3 * lens.k1 * r2 + 5 * lens.k2 * r2 * r2;
    const step = (r * (1 + lens.k1 * r2 + lens.k2 * r2 * r2) - distorted) / Math.max(0.05, slope);
    r -= step;
    if (Math.abs(step) < 1e-12) break;
  }
  const f = r / distorted;
  return [cx + (x - cx) * f, cy + (y - cy) * f];
}

/** Reference px → px of a placed frame as shot. @param inverse reference → undistorted frame */
export function toFrame(inverse: Matrix3, lens: Lens | null | undefined, size: Size, x: number, y: number): [number, number] {
  const [u, v] = project(inverse, x, y);
  return distort(lens, size, u, v);
}

/** The largest radius, in half-diagonals, up to which the lens does not fold back; Infinity where it never does. */
export function foldRadius(lens: Lens): number {
  for (let r = 0.05; r < 3; r += 0.05) if (1 + 3 * lens.k1 * r * r + 5 * lens.k2 * r ** 4 <= 0) return r - 0.05;
  return Infinity;
}
