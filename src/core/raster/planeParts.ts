import { intersect, type Rectangle } from "../geometry/rectangle";

/** Copies a rectangle out of a plane that holds a larger one. */
export function cutInto<T extends Float32Array | Uint8Array>(out: T, values: T, from: Rectangle, rect: Rectangle): void {
  for (let y = 0; y < rect.height; y++) {
    const start = (rect.y - from.y + y) * from.width + rect.x - from.x;
    out.set(values.subarray(start, start + rect.width), y * rect.width);
  }
}

/** A rectangle of a plane; the same array where that is all of it. */
export function cutOut(values: Float32Array, from: Rectangle, rect: Rectangle): Float32Array {
  if (from.width === rect.width && from.height === rect.height) return values;
  const out = new Float32Array(rect.width * rect.height);
  cutInto(out, values, from, rect);
  return out;
}

/** Copies what two planes share from one into the other. */
export function copyShared(out: Float32Array, into: Rectangle, values: Float32Array, from: Rectangle): void {
  const part = intersect(into, from);
  for (let y = part.y; y < part.y + part.height; y++) {
    const start = (y - from.y) * from.width + part.x - from.x;
    out.set(values.subarray(start, start + part.width), (y - into.y) * into.width + part.x - into.x);
  }
}

/** The part of a coarse grid that the samples of a rectangle depend on. @param step grid samples to a sample of the rectangle */
export function gridAround({ width, height }: { width: number; height: number }, step: number, rect: Rectangle): Rectangle {
  const along = (from: number, length: number, size: number) => {
    const first = Math.min(size - 1, Math.max(0, Math.floor((from + 0.5) * step - 0.5)));
    const last = Math.min(size - 1, Math.max(0, Math.floor((from + length - 0.5) * step - 0.5) + 1));
    return [first, last - first + 1];
  };
  const [[x, w], [y, h]] = [along(rect.x, rect.width, width), along(rect.y, rect.height, height)];
  return { x, y, width: w, height: h };
}

/**
 * A coarse grid at the samples of a rectangle, linear between its middles, beyond them as at the border.
 * @param step grid samples to a sample of the rectangle @param held the part of the grid that `grid` is, where it is not the whole
 */
export function sampleGrid(
  grid: ArrayLike<number>,
  width: number,
  height: number,
  step: number,
  rect: Rectangle,
  held: Rectangle = { x: 0, y: 0, width, height },
): Float32Array {
  const out = new Float32Array(rect.width * rect.height);
  const place = (at: number, size: number) => Math.min(size - 1, Math.max(0, (at + 0.5) * step - 0.5));
  const columns = Float64Array.from({ length: rect.width }, (_, x) => place(rect.x + x, width));
  for (let y = 0; y < rect.height; y++) {
    const v = place(rect.y + y, height);
    const upper = (Math.floor(v) - held.y) * held.width - held.x;
    const lower = (Math.min(height - 1, Math.floor(v) + 1) - held.y) * held.width - held.x;
    const down = v - Math.floor(v);
    for (let x = 0; x < rect.width; x++) {
      const left = Math.floor(columns[x]);
      const right = Math.min(width - 1, left + 1);
      const across = columns[x] - left;
      const a = grid[upper + left] + (grid[upper + right] - grid[upper + left]) * across;
      const b = grid[lower + left] + (grid[lower + right] - grid[lower + left]) * across;
      out[y * rect.width + x] = a + (b - a) * down;
    }
  }
  return out;
}
