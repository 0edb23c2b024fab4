/**
 * How a picture is bent so that its ragged border fills a rectangle: how far inwards of each side what is shown there lies, px, at control
 * points evenly spread over the side. The sides' shifts fade towards the side across by the square, so that the middle stays nearly as it is.
 */
export interface Bend {
  /** share of what would fill the rectangle, 0..1 */
  amount: number;
  top: number[];
  right: number[];
  bottom: number[];
  left: number[];
}

/** Control points along a side: of uniform cubic B-splines, the outermost beyond its ends. */
export const CONTROLS = 11;
const SPANS = CONTROLS - 3;

/** The four control points a place depends on, from the first one on, and their weights. @param t along the side, 0..1 */
export function basisAt(t: number): { first: number; weights: [number, number, number, number] } {
  const at = Math.min(1, Math.max(0, t)) * SPANS;
  const first = Math.min(SPANS - 1, Math.floor(at));
  const f = at - first;
  const [f2, f3] = [f * f, f * f * f];
  return { first, weights: [(1 - f) ** 3 / 6, (3 * f3 - 6 * f2 + 4) / 6, (-3 * f3 + 3 * f2 + 3 * f + 1) / 6, f3 / 6] };
}

/** A cubic B-spline at a place along a side. @see de Boor 1978, "A practical guide to splines" */
export function splineAt(controls: number[], t: number): number {
  const { first, weights } = basisAt(t);
  return weights[0] * controls[first] + weights[1] * controls[first + 1] + weights[2] * controls[first + 2] + weights[3] * controls[first + 3];
}

export interface BendMap {
  /** px of the bent picture → px of the picture as it lies */
  toFlat(x: number, y: number): [number, number];
  toBent(x: number, y: number): [number, number];
}

const ROUNDS = 40;
const CLOSE_PX = 1e-4;

/** @param width @param height of the picture, which is the rectangle to be filled */
export function bendMap({ amount, top, right, bottom, left }: Bend, width: number, height: number): BendMap {
  const [w, h] = [Math.max(1, width - 1), Math.max(1, height - 1)];
  const shift = (x: number, y: number): [number, number] => {
    const [u, v] = [Math.min(1, Math.max(0, x / w)), Math.min(1, Math.max(0, y / h))];
    return [amount * ((1 - u) ** 2 * splineAt(left, v) - u * u * splineAt(right, v)), amount * ((1 - v) ** 2 * splineAt(top, u) - v * v * splineAt(bottom, u))];
  };
  return {
    toFlat: (x, y) => {
      const [dx, dy] = shift(x, y);
      return [x + dx, y + dy];
    },
    // a shift changes by less than a px a px, so that putting it in again and again comes to rest
    toBent: (x, y) => {
      let [u, v] = [x, y];
      for (let k = 0; k < ROUNDS; k++) {
        const [dx, dy] = shift(u, v);
        const [nu, nv] = [x - dx, y - dy];
        const moved = Math.max(Math.abs(nu - u), Math.abs(nv - v));
        [u, v] = [nu, nv];
        if (moved < CLOSE_PX) break;
      }
      return [u, v];
    },
  };
}

/** What a bend costs. */
export interface BendCost {
  /** farthest that something is moved, px */
  px: number;
  /** most that a level or an upright line is tilted by, degrees */
  deg: number;
}

const LOOKS = 48;

export function bendCost(bend: Bend, width: number, height: number): BendCost {
  const { toFlat } = bendMap(bend, width, height);
  const [w, h] = [width - 1, height - 1];
  const step = Math.max(1e-3, Math.min(w, h) / LOOKS / 4);
  let [px, tilt] = [0, 0];
  for (let j = 0; j <= LOOKS; j++) {
    for (let i = 0; i <= LOOKS; i++) {
      const [x, y] = [(i / LOOKS) * (w - step), (j / LOOKS) * (h - step)];
      const [p, across, down] = [toFlat(x, y), toFlat(x + step, y), toFlat(x, y + step)];
      px = Math.max(px, Math.hypot(p[0] - x, p[1] - y));
      tilt = Math.max(tilt, Math.abs(Math.atan2(across[1] - p[1], across[0] - p[0])), Math.abs(Math.atan2(down[0] - p[0], down[1] - p[1])));
    }
  }
  return { px, deg: (tilt * 180) / Math.PI };
}
