import { widen, type Rectangle } from "../geometry/rectangle";

/** The bounds of where a mask changes from one sample to the next; null of an even one. */
export function transitionBounds(mask: Float32Array, width: number, height: number): Rectangle | null {
  let [x0, y0, x1, y1] = [width, height, -1, -1];
  for (let y = 0; y < height; y++) {
    const row = y * width;
    for (let x = 0; x < width; x++) {
      const v = mask[row + x];
      const right = x + 1 < width && mask[row + x + 1] !== v;
      const below = y + 1 < height && mask[row + x + width] !== v;
      if (!right && !below) continue;
      x0 = Math.min(x0, x);
      y0 = Math.min(y0, y);
      x1 = Math.max(x1, right ? x + 1 : x);
      y1 = Math.max(y1, below ? y + 1 : y);
    }
  }
  return x1 < 0 ? null : { x: x0, y: y0, width: x1 - x0 + 1, height: y1 - y0 + 1 };
}

/**
 * Where what looks `reach` samples around itself can make anything else of a mask, and all that it looks at for that: an even mask stays as it is.
 * @param area what the mask is a plane of @returns rectangles within it; null of an even mask
 */
export function aroundTransition(mask: Float32Array, area: Rectangle, reach: number): { changed: Rectangle; needed: Rectangle } | null {
  const bounds = transitionBounds(mask, area.width, area.height);
  if (!bounds) return null;
  const placed = { ...bounds, x: area.x + bounds.x, y: area.y + bounds.y };
  return { changed: widen(placed, reach, area), needed: widen(placed, 2 * reach, area) };
}
