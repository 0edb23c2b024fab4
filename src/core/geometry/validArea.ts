import { invert, project, type Matrix3 } from "./matrix3";
import type { Rectangle } from "./rectangle";
import { coveredSpan } from "./rowSpan";

export interface PlacedFrame {
  width: number;
  height: number;
  /** moving → reference */
  matrix: Matrix3;
}

/** Whether a point of the reference lies on the frame: between the centres of its border pixels. */
export function covers(frame: PlacedFrame, x: number, y: number): boolean {
  const [u, v] = project(invert(frame.matrix), x, y);
  return u >= 0 && v >= 0 && u <= frame.width - 1 && v <= frame.height - 1;
}

/**
 * For each row of the reference the columns that every frame covers. Frames are convex, so it is one interval per row.
 * @returns first and last column per row; last < first where nothing is covered
 */
export function coveredSpans(width: number, height: number, frames: PlacedFrame[]): { first: Int32Array; last: Int32Array } {
  const first = new Int32Array(height);
  const last = new Int32Array(height).fill(width - 1);
  for (const frame of frames) {
    const inverse = invert(frame.matrix);
    for (let y = 0; y < height; y++) {
      const [from, to] = coveredSpan(inverse, frame.width, frame.height, y, width);
      first[y] = Math.max(first[y], to > from ? from : width);
      last[y] = Math.min(last[y], to - 1);
    }
  }
  return { first, last };
}

/**
 * The largest axis-parallel rectangle without an empty pixel, optionally of a fixed ratio (width / height).
 * The covered area is convex, so only the four corners of a candidate have to be looked at.
 */
export function largestCrop(width: number, height: number, frames: PlacedFrame[], ratio?: number): Rectangle | null {
  const { first, last } = coveredSpans(width, height, frames);
  const step = Math.max(1, Math.floor(height / 512));
  let best: Rectangle | null = null;
  const consider = (top: number, bottom: number) => {
    const x0 = Math.max(first[top], first[bottom]);
    const x1 = Math.min(last[top], last[bottom]);
    if (x1 < x0 || bottom < top) return;
    let rectangle: Rectangle = { x: x0, y: top, width: x1 - x0 + 1, height: bottom - top + 1 };
    if (ratio !== undefined) rectangle = fitRatio(rectangle, ratio);
    if (!best || rectangle.width * rectangle.height > best.width * best.height) best = rectangle;
  };
  for (let top = 0; top < height; top += step) for (let bottom = top; bottom < height; bottom += step) consider(top, bottom);
  consider(0, height - 1);
  const coarse = best as Rectangle | null;
  if (!coarse) return null;
  if (step === 1) return coarse;
  const { y, height: h } = coarse;
  for (let top = Math.max(0, y - step); top <= Math.min(height - 1, y + step); top++) {
    for (let bottom = Math.max(top, y + h - 1 - step); bottom <= Math.min(height - 1, y + h - 1 + step); bottom++) consider(top, bottom);
  }
  return best;
}

/** The largest centred part of a rectangle with the given ratio. */
export function fitRatio(r: Rectangle, ratio: number): Rectangle {
  const width = Math.max(1, Math.min(r.width, Math.floor(r.height * ratio)));
  const height = Math.max(1, Math.min(r.height, Math.floor(r.width / ratio)));
  return { x: r.x + ((r.width - width) >> 1), y: r.y + ((r.height - height) >> 1), width, height };
}
