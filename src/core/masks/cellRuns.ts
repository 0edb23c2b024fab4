import type { Rectangle } from "../geometry/rectangle";

/** An area on a grid of square cells, by rows: row, first column, one past the last column, one after the other; rows and columns rise, runs of a row do not touch. */
export type CellRuns = readonly number[];

/** Runs of the cells that are on. */
export function runsOf(on: ArrayLike<number | boolean>, columns: number, rows: number, x0 = 0, y0 = 0): number[] {
  const out: number[] = [];
  for (let y = 0; y < rows; y++) {
    for (let x = 0; x < columns; x++) {
      if (!on[y * columns + x]) continue;
      const from = x;
      while (x < columns && on[y * columns + x]) x++;
      out.push(y + y0, from + x0, x + x0);
    }
  }
  return out;
}

/** Bounds in cells; null of nothing. */
export function runBounds(runs: CellRuns): Rectangle | null {
  if (runs.length === 0) return null;
  let [x0, x1] = [Infinity, -Infinity];
  for (let i = 0; i < runs.length; i += 3) {
    x0 = Math.min(x0, runs[i + 1]);
    x1 = Math.max(x1, runs[i + 2]);
  }
  return { x: x0, y: runs[0], width: x1 - x0, height: runs[runs.length - 3] - runs[0] + 1 };
}

/** Bounds in px of the picture. @throws TypeError of nothing */
export function runRectangle(runs: CellRuns, cellPx: number): Rectangle {
  const { x, y, width, height } = runBounds(runs)!;
  return { x: x * cellPx, y: y * cellPx, width: width * cellPx, height: height * cellPx };
}

export function countCells(runs: CellRuns): number {
  let count = 0;
  for (let i = 0; i < runs.length; i += 3) count += runs[i + 2] - runs[i + 1];
  return count;
}

/** The cells of runs as a plane of the rectangle: 1 inside. */
export function fillCells(runs: CellRuns, area: Rectangle): Uint8Array {
  const on = new Uint8Array(area.width * area.height);
  for (let i = 0; i < runs.length; i += 3) {
    const y = runs[i] - area.y;
    if (y < 0 || y >= area.height) continue;
    const from = Math.max(0, runs[i + 1] - area.x);
    const to = Math.min(area.width, runs[i + 2] - area.x);
    if (to > from) on.fill(1, y * area.width + from, y * area.width + to);
  }
  return on;
}

/** The px of an area as a plane: 1 in a cell of the runs. */
export function fillPixels(runs: CellRuns, cellPx: number, area: Rectangle): Uint8Array {
  const out = new Uint8Array(area.width * area.height);
  for (let i = 0; i < runs.length; i += 3) {
    const from = Math.max(0, runs[i + 1] * cellPx - area.x);
    const to = Math.min(area.width, runs[i + 2] * cellPx - area.x);
    const bottom = Math.min(area.height, (runs[i] + 1) * cellPx - area.y);
    for (let y = Math.max(0, runs[i] * cellPx - area.y); y < bottom && to > from; y++) out.fill(1, y * area.width + from, y * area.width + to);
  }
  return out;
}

function combine(a: CellRuns, b: CellRuns, keep: (inA: number, inB: number) => boolean): number[] {
  const [p, q] = [runBounds(a), runBounds(b)];
  if (!p || !q) return p ? (keep(1, 0) ? [...a] : []) : keep(0, 1) ? [...b] : [];
  const [x, y] = [Math.min(p.x, q.x), Math.min(p.y, q.y)];
  const area = { x, y, width: Math.max(p.x + p.width, q.x + q.width) - x, height: Math.max(p.y + p.height, q.y + q.height) - y };
  const [on, other] = [fillCells(a, area), fillCells(b, area)];
  return runsOf(
    on.map((v, i) => (keep(v, other[i]) ? 1 : 0)),
    area.width,
    area.height,
    x,
    y,
  );
}

export const uniteRuns = (a: CellRuns, b: CellRuns) => combine(a, b, (p, q) => p + q > 0);
export const subtractRuns = (a: CellRuns, b: CellRuns) => combine(a, b, (p, q) => p > 0 && q === 0);
export const sharedCells = (a: CellRuns, b: CellRuns) => countCells(combine(a, b, (p, q) => p > 0 && q > 0));

export function hasCell(runs: CellRuns, x: number, y: number): boolean {
  for (let i = 0; i < runs.length; i += 3) if (runs[i] === y && x >= runs[i + 1] && x < runs[i + 2]) return true;
  return false;
}

/**
 * Cells that a stroke of a round brush touches with their centres.
 * @param points x, y, pressure, px at full size @param size of the picture, px
 */
export function runsOfStroke(points: readonly number[], diameterPx: number, cellPx: number, size: { width: number; height: number }): number[] {
  const r = Math.max(diameterPx / 2, cellPx * 0.75);
  const [columns, rows] = [Math.ceil(size.width / cellPx), Math.ceil(size.height / cellPx)];
  const xs = points.filter((_, i) => i % 3 === 0);
  const ys = points.filter((_, i) => i % 3 === 1);
  const x0 = Math.max(0, Math.floor((Math.min(...xs) - r) / cellPx));
  const y0 = Math.max(0, Math.floor((Math.min(...ys) - r) / cellPx));
  const width = Math.min(columns, Math.ceil((Math.max(...xs) + r) / cellPx) + 1) - x0;
  const height = Math.min(rows, Math.ceil((Math.max(...ys) + r) / cellPx) + 1) - y0;
  if (!(width > 0 && height > 0)) return [];
  const on = new Uint8Array(width * height);
  xs.forEach((ax, k) => {
    const [ay, bx, by] = [ys[k], xs[Math.min(k + 1, xs.length - 1)], ys[Math.min(k + 1, ys.length - 1)]];
    const [dx, dy] = [bx - ax, by - ay];
    const length = dx * dx + dy * dy;
    const fromX = Math.max(0, Math.floor((Math.min(ax, bx) - r) / cellPx) - x0);
    const toX = Math.min(width - 1, Math.ceil((Math.max(ax, bx) + r) / cellPx) - x0);
    for (
      let v = Math.max(0, Math.floor((Math.min(ay, by) - r) / cellPx) - y0);
      v <= Math.min(height - 1, Math.ceil((Math.max(ay, by) + r) / cellPx) - y0);
      v++
    ) {
      for (let u = fromX; u <= toX; u++) {
        const [cx, cy] = [(u + x0 + 0.5) * cellPx, (v + y0 + 0.5) * cellPx];
        const t = length > 0 ? Math.min(1, Math.max(0, ((cx - ax) * dx + (cy - ay) * dy) / length)) : 0;
        if ((cx - ax - t * dx) ** 2 + (cy - ay - t * dy) ** 2 <= r * r) on[v * width + u] = 1;
      }
    }
  });
  return runsOf(on, width, height, x0, y0);
}

/** An area as an SVG path in cells, to be filled: a box for every run. */
export function filledPath(runs: CellRuns): string {
  let path = "";
  for (let i = 0; i < runs.length; i += 3) path += `M${runs[i + 1]} ${runs[i]}H${runs[i + 2]}v1H${runs[i + 1]}z`;
  return path;
}

/** The outline of an area as an SVG path in cells: every side between a cell that is on and one that is not. */
export function outlineOf(runs: CellRuns): string {
  const bounds = runBounds(runs);
  if (!bounds) return "";
  const { x: x0, y: y0, width, height } = bounds;
  const on = fillCells(runs, bounds);
  const at = (x: number, y: number) => (x >= 0 && y >= 0 && x < width && y < height ? on[y * width + x] : 0);
  const parts: string[] = [];
  for (let y = 0; y <= height; y++) {
    for (let x = 0; x < width; x++) {
      if (at(x, y) === at(x, y - 1)) continue;
      const from = x;
      while (x < width && at(x, y) !== at(x, y - 1)) x++;
      parts.push(`M${from + x0} ${y + y0}H${x + x0}`);
    }
  }
  for (let x = 0; x <= width; x++) {
    for (let y = 0; y < height; y++) {
      if (at(x, y) === at(x - 1, y)) continue;
      const from = y;
      while (y < height && at(x, y) !== at(x - 1, y)) y++;
      parts.push(`M${x + x0} ${from + y0}V${y + y0}`);
    }
  }
  return parts.join("");
}
