import { invert, multiply, normalize, project, type Matrix3 } from "../../core/geometry/matrix3";
import { fitModel } from "../../core/register/models";

/** Moves of a placement (frame → reference) by hand. All act in the reference's px. */

export function shifted(matrix: Matrix3, dx: number, dy: number): Matrix3 {
  return normalize(multiply([1, 0, dx, 0, 1, dy, 0, 0, 1], matrix));
}

/** Turned clockwise by degrees and scaled about a place. */
export function turned(matrix: Matrix3, degrees: number, scale: number, cx: number, cy: number): Matrix3 {
  const a = (degrees * Math.PI) / 180;
  const [c, s] = [Math.cos(a) * scale, Math.sin(a) * scale];
  return normalize(multiply([c, -s, cx - c * cx + s * cy, s, c, cy - s * cx - c * cy, 0, 0, 1], matrix));
}

/** The frame's corners where they lie in the reference, clockwise from the upper left. */
export function cornersOf(matrix: Matrix3, size: { width: number; height: number }): [number, number][] {
  const [w, h] = [size.width - 1, size.height - 1];
  return [project(matrix, 0, 0), project(matrix, w, 0), project(matrix, w, h), project(matrix, 0, h)];
}

/** One corner moved, the other three kept. */
export function withCorner(matrix: Matrix3, size: { width: number; height: number }, corner: number, x: number, y: number): Matrix3 {
  const [w, h] = [size.width - 1, size.height - 1];
  const own = [
    [0, 0],
    [w, 0],
    [w, h],
    [0, h],
  ];
  const corners = cornersOf(matrix, size);
  corners[corner] = [x, y];
  // the fit maps from the reference, as all registrations do
  const points = corners.map(([cx, cy], i) => ({ x: cx, y: cy, u: own[i][0], v: own[i][1] }));
  const fit = fitModel("homography", points, size, size, invert(matrix));
  return fit && fit.rmsPx < 0.5 ? invert(fit.matrix) : matrix;
}
