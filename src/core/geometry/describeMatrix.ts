import { project, type Matrix3 } from "./matrix3";

export interface MotionFigures {
  /** shift of the frame's centre, px */
  dx: number;
  dy: number;
  /** degrees, positive clockwise */
  rotationDeg: number;
  scale: number;
}

/** What a registration does at the frame's centre, in figures for people. */
export function describeMatrix(m: Matrix3, width: number, height: number): MotionFigures {
  const [cx, cy] = [(width - 1) / 2, (height - 1) / 2];
  const [u, v] = project(m, cx, cy);
  const [ux, vx] = project(m, cx + 1, cy);
  const [uy, vy] = project(m, cx, cy + 1);
  const [a, c, b, d] = [ux - u, vx - v, uy - u, vy - v];
  return {
    dx: u - cx,
    dy: v - cy,
    rotationDeg: (Math.atan2(c - b, a + d) * 180) / Math.PI,
    scale: Math.sqrt(Math.abs(a * d - b * c)),
  };
}
