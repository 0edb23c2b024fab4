import { toFrame, type Lens } from "./lens";
import type { Matrix3 } from "./matrix3";

/**
 * The columns of one reference row that a frame covers, as a half-open interval; empty where none is.
 * @param inverse reference → undistorted moving
 */
export function coveredSpan(
  inverse: Matrix3,
  frameWidth: number,
  frameHeight: number,
  y: number,
  width: number,
  lens?: Lens | null,
): [from: number, to: number] {
  const size = { width: frameWidth, height: frameHeight };
  const inside = (x: number) => {
    const [u, v] = toFrame(inverse, lens, size, x, y);
    return u >= 0 && v >= 0 && u <= frameWidth - 1 && v <= frameHeight - 1;
  };
  let probe = -1;
  for (let k = 0; k <= 32 && probe < 0; k++) {
    // from the middle outwards
    const x = Math.round((0.5 + ((k % 2 ? 1 : -1) * Math.ceil(k / 2)) / 32) * (width - 1));
    if (x >= 0 && x < width && inside(x)) probe = x;
  }
  if (probe < 0) return [0, 0];
  return [inside(0) ? 0 : edge(inside, probe, -1), (inside(width - 1) ? width - 1 : edge(inside, probe, width)) + 1];
}

/** Bisection between a covered and an uncovered column; returns the covered one next to the edge. */
function edge(inside: (x: number) => boolean, covered: number, uncovered: number): number {
  let a = covered;
  let b = uncovered;
  while (Math.abs(a - b) > 1) {
    const m = (a + b) >> 1;
    if (inside(m)) a = m;
    else b = m;
  }
  return a;
}
