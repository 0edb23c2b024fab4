/** Nine numbers, row-major: a 3×3 matrix. As a homography it maps (x, y, 1). */
export type Matrix3 = readonly number[];

export const IDENTITY: Matrix3 = [1, 0, 0, 0, 1, 0, 0, 0, 1];

export function multiply(a: Matrix3, b: Matrix3): number[] {
  const out = new Array<number>(9);
  for (let r = 0; r < 3; r++) {
    for (let c = 0; c < 3; c++) out[r * 3 + c] = a[r * 3] * b[c] + a[r * 3 + 1] * b[3 + c] + a[r * 3 + 2] * b[6 + c];
  }
  return out;
}

/** @throws RangeError where the matrix has no inverse */
export function invert(m: Matrix3): number[] {
  const [a, b, c, d, e, f, g, h, i] = m;
  const A = e * i - f * h;
  const B = f * g - d * i;
  const C = d * h - e * g;
  const det = a * A + b * B + c * C;
  if (!(Math.abs(det) > 1e-300)) throw new RangeError("The matrix has no inverse.");
  return [A, c * h - b * i, b * f - c * e, B, a * i - c * g, c * d - a * f, C, b * g - a * h, a * e - b * d].map((v) => v / det);
}

export function transform(m: Matrix3, v: readonly number[]): [number, number, number] {
  return [m[0] * v[0] + m[1] * v[1] + m[2] * v[2], m[3] * v[0] + m[4] * v[1] + m[5] * v[2], m[6] * v[0] + m[7] * v[1] + m[8] * v[2]];
}

/** Maps a point by a homography. */
export function project(m: Matrix3, x: number, y: number): [number, number] {
  const [u, v, w] = transform(m, [x, y, 1]);
  return [u / w, v / w];
}

/** Scales a homography so that its last entry is 1. */
export function normalize(m: Matrix3): number[] {
  return m.map((v) => v / m[8]);
}

/** Px of a display level → px at full size, X = (x + 0.5)·2^l − 0.5 (see docs/architecture.md, coordinates). */
function upFrom(level: number): Matrix3 {
  const s = 2 ** level;
  const o = (s - 1) / 2;
  return [s, 0, o, 0, s, o, 0, 0, 1];
}

/** The same map between pictures at display level `level`. */
export function atLevel(m: Matrix3, level: number, into = level): number[] {
  return normalize(multiply(invert(upFrom(into)), multiply(m, upFrom(level))));
}

/** The map at full size of one that leads from a level of one picture to a level of another. */
export function fromLevels(m: Matrix3, from: number, to: number): number[] {
  return normalize(multiply(upFrom(to), multiply(m, invert(upFrom(from)))));
}

export type Place = readonly [number, number];

/** Whether four corners, in the order of the clock where y points down, make a convex outline. */
export function isConvex(corners: readonly Place[]): boolean {
  return corners.every(([x, y], i) => {
    const [a, b] = [corners[(i + 1) % 4], corners[(i + 2) % 4]];
    return (a[0] - x) * (b[1] - a[1]) - (a[1] - y) * (b[0] - a[0]) > 1e-6;
  });
}

/** The homography that carries (0, 0), (1, 0), (1, 1), (0, 1) to four corners. @see Heckbert 1989, Fundamentals of Texture Mapping, 2.2.3 */
export function unitSquareTo([p0, p1, p2, p3]: readonly Place[]): Matrix3 {
  const [dx1, dx2, dx3] = [p1[0] - p2[0], p3[0] - p2[0], p0[0] - p1[0] + p2[0] - p3[0]];
  const [dy1, dy2, dy3] = [p1[1] - p2[1], p3[1] - p2[1], p0[1] - p1[1] + p2[1] - p3[1]];
  const area = dx1 * dy2 - dx2 * dy1;
  const [g, h] = [(dx3 * dy2 - dx2 * dy3) / area, (dx1 * dy3 - dx3 * dy1) / area];
  return [p1[0] - p0[0] + g * p1[0], p3[0] - p0[0] + h * p3[0], p0[0], p1[1] - p0[1] + g * p1[1], p3[1] - p0[1] + h * p3[1], p0[1], g, h, 1];
}
