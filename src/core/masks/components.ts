export interface Component {
  x0: number;
  y0: number;
  x1: number;
  y1: number;
  count: number;
}

/** Connected areas (eight neighbours) of a binary grid. */
export function components(on: Uint8Array, columns: number, rows: number): Component[] {
  const seen = new Uint8Array(on.length);
  const found: Component[] = [];
  const stack: number[] = [];
  for (let start = 0; start < on.length; start++) {
    if (!on[start] || seen[start]) continue;
    const c: Component = { x0: columns, y0: rows, x1: 0, y1: 0, count: 0 };
    stack.push(start);
    seen[start] = 1;
    while (stack.length) {
      const i = stack.pop()!;
      const x = i % columns;
      const y = (i - x) / columns;
      c.count++;
      c.x0 = Math.min(c.x0, x);
      c.x1 = Math.max(c.x1, x);
      c.y0 = Math.min(c.y0, y);
      c.y1 = Math.max(c.y1, y);
      for (let dy = -1; dy <= 1; dy++) {
        for (let dx = -1; dx <= 1; dx++) {
          const [u, v] = [x + dx, y + dy];
          const j = v * columns + u;
          if (u < 0 || v < 0 || u >= columns || v >= rows || !on[j] || seen[j]) continue;
          seen[j] = 1;
          stack.push(j);
        }
      }
    }
    found.push(c);
  }
  return found;
}
