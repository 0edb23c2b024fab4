/** Connected areas (eight neighbours) of a binary grid, each as the indices of its cells. */
export function connectedCells(on: ArrayLike<number>, columns: number, rows: number): number[][] {
  const seen = new Uint8Array(on.length);
  const areas: number[][] = [];
  for (let start = 0; start < on.length; start++) {
    if (!on[start] || seen[start]) continue;
    const area = [start];
    seen[start] = 1;
    for (let next = 0; next < area.length; next++) {
      const x = area[next] % columns;
      const y = (area[next] - x) / columns;
      for (let v = Math.max(0, y - 1); v <= Math.min(rows - 1, y + 1); v++) {
        for (let j = v * columns + Math.max(0, x - 1); j <= v * columns + Math.min(columns - 1, x + 1); j++) {
          if (!on[j] || seen[j]) continue;
          seen[j] = 1;
          area.push(j);
        }
      }
    }
    areas.push(area);
  }
  return areas;
}

/** Bounds of an area and its size. */
export interface Component {
  x0: number;
  y0: number;
  x1: number;
  y1: number;
  count: number;
}

export function boundsOfCells(area: readonly number[], columns: number): Component {
  const bounds: Component = { x0: columns, y0: Infinity, x1: 0, y1: 0, count: area.length };
  for (const i of area) {
    const x = i % columns;
    const y = (i - x) / columns;
    bounds.x0 = Math.min(bounds.x0, x);
    bounds.x1 = Math.max(bounds.x1, x);
    bounds.y0 = Math.min(bounds.y0, y);
    bounds.y1 = Math.max(bounds.y1, y);
  }
  return bounds;
}

export const components = (on: ArrayLike<number>, columns: number, rows: number): Component[] =>
  connectedCells(on, columns, rows).map((area) => boundsOfCells(area, columns));
