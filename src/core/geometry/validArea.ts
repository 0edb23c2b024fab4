import { hasLens, toFrame, type Lens } from "./lens";
import { invert, type Matrix3 } from "./matrix3";
import type { Rectangle } from "./rectangle";
import { coveredSpan } from "./rowSpan";

export interface PlacedFrame {
  width: number;
  height: number;
  /** undistorted moving → reference */
  matrix: Matrix3;
  lens?: Lens | null;
}

/** Whether a point of the reference lies on the frame: between the centres of its border pixels. */
export function covers(frame: PlacedFrame, x: number, y: number): boolean {
  const [u, v] = toFrame(invert(frame.matrix), frame.lens, frame, x, y);
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
      const [from, to] = coveredSpan(inverse, frame.width, frame.height, y, width, frame.lens);
      first[y] = Math.max(first[y], to > from ? from : width);
      last[y] = Math.min(last[y], to - 1);
    }
  }
  return { first, last };
}

/** A place that must lie inside a crop. */
export interface Kept {
  x: number;
  y: number;
}

/**
 * The largest axis-parallel rectangle without an empty pixel, optionally of a fixed ratio (width / height), that holds every
 * place to be kept. The covered area is convex but for lenses, so the rows between are looked at only where there is one.
 * @returns null where nothing is covered or the kept places do not fit
 */
export function largestCrop(width: number, height: number, frames: PlacedFrame[], ratio?: number, kept: Kept[] = []): Rectangle | null {
  const { first, last } = coveredSpans(width, height, frames);
  const bent = frames.some((f) => hasLens(f.lens));
  const step = Math.max(1, Math.floor(height / 512));
  let best: Rectangle | null = null;
  const consider = (top: number, bottom: number) => {
    let x0 = Math.max(first[top], first[bottom]);
    let x1 = Math.min(last[top], last[bottom]);
    for (let k = 1; bent && k < 16; k++) {
      const y = Math.round(top + ((bottom - top) * k) / 16);
      x0 = Math.max(x0, first[y]);
      x1 = Math.min(x1, last[y]);
    }
    if (x1 < x0 || bottom < top) return;
    const open: Rectangle = { x: x0, y: top, width: x1 - x0 + 1, height: bottom - top + 1 };
    const rectangle = ratio === undefined ? open : fitRatio(open, ratio, kept);
    if (best && rectangle.width * rectangle.height <= best.width * best.height) return;
    if (kept.every((p) => p.x >= rectangle.x && p.y >= rectangle.y && p.x < rectangle.x + rectangle.width && p.y < rectangle.y + rectangle.height))
      best = rectangle;
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

/** The largest part of a rectangle with the given ratio: centred, or as near to that as the kept places allow. */
export function fitRatio(r: Rectangle, ratio: number, kept: Kept[] = []): Rectangle {
  const width = Math.max(1, Math.min(r.width, Math.floor(r.height * ratio)));
  const height = Math.max(1, Math.min(r.height, Math.floor(r.width / ratio)));
  const place = (start: number, long: number, short: number, places: number[]) => {
    let at = start + ((long - short) >> 1);
    if (places.length) at = Math.min(Math.max(at, Math.ceil(Math.max(...places)) - short + 1), Math.floor(Math.min(...places)));
    return Math.min(Math.max(at, start), start + long - short);
  };
  return {
    x: place(
      r.x,
      r.width,
      width,
      kept.map((p) => p.x),
    ),
    y: place(
      r.y,
      r.height,
      height,
      kept.map((p) => p.y),
    ),
    width,
    height,
  };
}

/** What each frame costs: how much larger the crop would be without it, as a share of the crop with all frames. */
export function costOfFrames(width: number, height: number, frames: PlacedFrame[], ratio?: number, kept: Kept[] = []): number[] {
  const all = largestCrop(width, height, frames, ratio, kept);
  const area = all ? all.width * all.height : 0;
  return frames.map((_, i) => {
    const without = largestCrop(
      width,
      height,
      frames.filter((_f, k) => k !== i),
      ratio,
      kept,
    );
    return without && area ? (without.width * without.height) / area - 1 : 0;
  });
}
