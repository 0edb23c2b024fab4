/** Half-open integer rectangle: columns x to x + width − 1. */
export interface Rectangle {
  x: number;
  y: number;
  width: number;
  height: number;
}

export function intersect(a: Rectangle, b: Rectangle): Rectangle {
  const x = Math.max(a.x, b.x);
  const y = Math.max(a.y, b.y);
  return {
    x,
    y,
    width: Math.max(0, Math.min(a.x + a.width, b.x + b.width) - x),
    height: Math.max(0, Math.min(a.y + a.height, b.y + b.height) - y),
  };
}

export function area(r: Rectangle): number {
  return r.width * r.height;
}

/** The rectangle's pixels at display level `level` (outer bounds). */
export function rectangleAtLevel(r: Rectangle, level: number): Rectangle {
  const s = 2 ** level;
  const x = Math.floor(r.x / s);
  const y = Math.floor(r.y / s);
  return { x, y, width: Math.ceil((r.x + r.width) / s) - x, height: Math.ceil((r.y + r.height) / s) - y };
}

/** Size of a picture at a display level. */
export function sizeAtLevel(width: number, height: number, level: number): { width: number; height: number } {
  return { width: Math.ceil(width / 2 ** level), height: Math.ceil(height / 2 ** level) };
}

/** A rectangle larger by so much on every side, as far as its bounds go. @param bounds at the origin where no place is said */
export function widen(rect: Rectangle, by: number, bounds: { x?: number; y?: number; width: number; height: number }): Rectangle {
  return intersect({ x: rect.x - by, y: rect.y - by, width: rect.width + 2 * by, height: rect.height + 2 * by }, { x: 0, y: 0, ...bounds });
}

/** The finest display level of a picture whose longer side is no longer than so many samples. */
export const levelOfSide = ({ width, height }: { width: number; height: number }, side: number): number =>
  Math.max(0, Math.ceil(Math.log2(Math.max(width, height) / side)));
