import type { Rectangle } from "../geometry/rectangle";
import { cosine, sine } from "../numeric/elementary";

/** Rises from 0 to 1 with even ends. */
export const smooth = (t: number): number => (t <= 0 ? 0 : t >= 1 ? 1 : t * t * (3 - 2 * t));

/** Calls with the index and the place, in px at full size, of every sample of a rectangle at a display level. */
function eachPlace(rect: Rectangle, level: number, visit: (i: number, x: number, y: number) => void): void {
  const s = 2 ** level;
  for (let j = 0, i = 0; j < rect.height; j++) {
    const y = (rect.y + j + 0.5) * s - 0.5;
    for (let k = 0; k < rect.width; k++, i++) visit(i, (rect.x + k + 0.5) * s - 0.5, y);
  }
}

/** 0 up to the first place, 1 from the second, smooth between. Coordinates px at full size. */
export function rampMask(from: [number, number], to: [number, number], level: number, rect: Rectangle, out: Float32Array): void {
  const [dx, dy] = [to[0] - from[0], to[1] - from[1]];
  const length2 = Math.max(1e-9, dx * dx + dy * dy);
  eachPlace(rect, level, (i, x, y) => (out[i] = smooth(((x - from[0]) * dx + (y - from[1]) * dy) / length2)));
}

/** 1 inside an ellipse, 0 outside, the border over one sample. Radii before it is turned clockwise. */
export function ellipseMask(
  { cx, cy, rx, ry, angleDeg }: { cx: number; cy: number; rx: number; ry: number; angleDeg: number },
  level: number,
  rect: Rectangle,
  out: Float32Array,
): void {
  const angle = (angleDeg * Math.PI) / 180;
  const [c, s] = [cosine(angle), sine(angle)];
  const step = 2 ** level;
  eachPlace(rect, level, (i, x, y) => {
    const [u, v] = [((x - cx) * c + (y - cy) * s) / rx, (-(x - cx) * s + (y - cy) * c) / ry];
    const r = Math.sqrt(u * u + v * v);
    // distance to the border along the gradient of r, near enough within one sample of it
    const slope = r > 0 ? Math.sqrt((u / rx) ** 2 + (v / ry) ** 2) / r : 1 / Math.min(rx, ry);
    out[i] = Math.min(1, Math.max(0, 0.5 + (1 - r) / (slope * step)));
  });
}

/** Rows of a sample that are looked at for a polygon. */
const SUBROWS = 4;

/**
 * Share of each sample that lies inside a closed polygon (even-odd rule): exact across, by SUBROWS rows down.
 * @param points corners x, y one after the other, px at full size
 */
export function polygonMask(points: readonly number[], level: number, rect: Rectangle, out: Float32Array): void {
  const s = 2 ** level;
  out.fill(0, 0, rect.width * rect.height);
  const n = points.length / 2;
  for (let j = 0; j < rect.height; j++) {
    for (let sub = 0; sub < SUBROWS; sub++) {
      const y = (rect.y + j + (sub + 0.5) / SUBROWS) * s - 0.5;
      const crossings: number[] = [];
      for (let k = 0; k < n; k++) {
        const [x0, y0, x1, y1] = [points[2 * k], points[2 * k + 1], points[2 * ((k + 1) % n)], points[2 * ((k + 1) % n) + 1]];
        if (y0 <= y === y1 <= y) continue;
        // samples cover half-open spans of which the first begins at rect.x
        crossings.push((x0 + ((y - y0) * (x1 - x0)) / (y1 - y0) + 0.5) / s - rect.x);
      }
      crossings.sort((a, b) => a - b);
      for (let c = 0; c + 1 < crossings.length; c += 2) addSpan(out, j * rect.width, rect.width, crossings[c], crossings[c + 1]);
    }
  }
}

/** Adds the part of each sample of a row that lies between two places. */
function addSpan(out: Float32Array, row: number, width: number, from: number, to: number): void {
  const [a, b] = [Math.max(0, from), Math.min(width, to)];
  if (b <= a) return;
  const [first, last] = [Math.floor(a), Math.min(width - 1, Math.floor(b))];
  for (let x = first; x <= last; x++) out[row + x] += (Math.min(b, x + 1) - Math.max(a, x)) / SUBROWS;
}

/** 1 between two values, falling smoothly over `soft` on either side. */
export function band(value: number, from: number, to: number, soft: number): number {
  if (soft <= 0) return value >= from && value <= to ? 1 : 0;
  return smooth((value - from) / soft + 1) * smooth((to - value) / soft + 1);
}

/** Lays a part onto what was there, in place. */
export function combine(mask: Float32Array, part: Float32Array, how: "add" | "subtract" | "intersect"): void {
  if (how === "add") for (let i = 0; i < mask.length; i++) mask[i] = 1 - (1 - mask[i]) * (1 - part[i]);
  else if (how === "subtract") for (let i = 0; i < mask.length; i++) mask[i] *= 1 - part[i];
  else for (let i = 0; i < mask.length; i++) mask[i] *= part[i];
}
