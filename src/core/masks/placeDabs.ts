/**
 * Places dabs evenly along a polyline. Adding points never moves earlier dabs, so a stroke can be drawn while it grows.
 * @param points x, y, pressure, one after the other, px at full size @param share distance between dabs as a share of the diameter
 * @returns x, y, pressure of each dab
 */
export function placeDabs(points: readonly number[], diameterPx: number, share: number): number[] {
  if (points.length < 3) return [];
  const spacing = Math.max(1, diameterPx * share);
  const dabs = [points[0], points[1], points[2]];
  let carried = 0;
  for (let i = 3; i + 2 < points.length; i += 3) {
    const [x0, y0, p0, x1, y1, p1] = points.slice(i - 3, i + 3);
    const length = Math.sqrt((x1 - x0) ** 2 + (y1 - y0) ** 2);
    let along = spacing - carried;
    for (; along <= length; along += spacing) {
      const t = along / length;
      dabs.push(x0 + (x1 - x0) * t, y0 + (y1 - y0) * t, p0 + (p1 - p0) * t);
    }
    carried = length - (along - spacing);
  }
  return dabs;
}

/** Bounds of a stroke with its brush, px at full size. */
export function strokeBounds(points: readonly number[], diameterPx: number): { x0: number; y0: number; x1: number; y1: number } {
  const r = diameterPx / 2 + 2;
  const bounds = { x0: Infinity, y0: Infinity, x1: -Infinity, y1: -Infinity };
  for (let i = 0; i + 2 < points.length; i += 3) {
    bounds.x0 = Math.min(bounds.x0, points[i] - r);
    bounds.x1 = Math.max(bounds.x1, points[i] + r);
    bounds.y0 = Math.min(bounds.y0, points[i + 1] - r);
    bounds.y1 = Math.max(bounds.y1, points[i + 1] + r);
  }
  return bounds;
}

/**
 * Lays a stroke's coverage onto a mask in place: white reveals, black conceals.
 * @param coverage 0..1 from the stroke's dabs @param opacity the most the stroke may do, 0..1 @param limit how much of it a place takes, 0..1
 */
export function applyStroke(mask: Float32Array, coverage: Float32Array, opacity: number, reveal: boolean, limit: Float32Array | null = null): void {
  for (let i = 0; i < mask.length; i++) {
    const s = limit ? coverage[i] * opacity * limit[i] : coverage[i] * opacity;
    if (s > 0) mask[i] = reveal ? mask[i] + (1 - mask[i]) * s : mask[i] * (1 - s);
  }
}
