import type { Rectangle } from "../geometry/rectangle";
import { inside, pixelOf, type Camera } from "./camera";
import { viewMap, type PanoramaView } from "./layout";

/** Which cells of a grid over the picture are covered by some frame, wholly. */
export interface Coverage {
  cell: number;
  columns: number;
  rows: number;
  covered: Uint8Array;
}

/** @param most cells across the longer side @param toView px of a turned picture → px of the view */
export function coverageOf(view: PanoramaView, cameras: Camera[], most = 700, toView?: (x: number, y: number) => [number, number]): Coverage {
  const cell = Math.max(1, Math.ceil(Math.max(view.width, view.height) / most));
  const [columns, rows] = [Math.ceil(view.width / cell), Math.ceil(view.height / cell)];
  const { toRay } = viewMap(view);
  const corners = new Uint8Array((columns + 1) * (rows + 1));
  const shows = (c: Camera, ray: readonly number[]) => {
    const p = pixelOf(c, ray);
    return p !== null && inside(c, p);
  };
  // the frame that showed the place before mostly shows this one too
  let before: Camera | undefined = cameras[0];
  for (let j = 0; j <= rows; j++) {
    for (let i = 0; i <= columns; i++) {
      const [x, y] = [Math.min(view.width - 1, i * cell), Math.min(view.height - 1, j * cell)];
      const ray = toView ? toRay(...toView(x, y)) : toRay(x, y);
      if (!ray) continue;
      const seen: Camera | undefined = before && shows(before, ray) ? before : cameras.find((c) => shows(c, ray));
      if (!seen) continue;
      before = seen;
      corners[j * (columns + 1) + i] = 1;
    }
  }
  const covered = new Uint8Array(columns * rows);
  for (let j = 0; j < rows; j++) {
    for (let i = 0; i < columns; i++) {
      const at = j * (columns + 1) + i;
      covered[j * columns + i] = corners[at] & corners[at + 1] & corners[at + columns + 1] & corners[at + columns + 2];
    }
  }
  return { cell, columns, rows, covered };
}

/** A place that must lie inside a crop. */
export interface Stay {
  x: number;
  y: number;
}

/** A crop nearly as large is taken where it lies better: what must stay has more room, or the middle is nearer. Common practice, no source. */
const NEARLY = 0.97;

interface Cells {
  i: number;
  j: number;
  w: number;
  h: number;
}
interface Needed {
  left: number;
  right: number;
  top: number;
  bottom: number;
}

/** The largest part of some cells at a ratio: about what must stay, else in their middle. */
function shaped({ i, j, w, h }: Cells, ratio: number, need: Needed | null): Cells | null {
  const [fw, fh] = w > h * ratio ? [Math.floor(h * ratio), h] : [w, Math.floor(w / ratio)];
  if (fw < 1 || fh < 1) return null;
  const place = (from: number, long: number, short: number, low: number, high: number) =>
    Math.min(Math.max(Math.round((low + high + 1 - short) / 2), from), from + long - short);
  return {
    i: place(i, w, fw, need?.left ?? i, need?.right ?? i + w - 1),
    j: place(j, h, fh, need?.top ?? j, need?.bottom ?? j + h - 1),
    w: fw,
    h: fh,
  };
}

function bestPlaced(candidates: Cells[], need: Needed | null, columns: number, rows: number): Cells | null {
  const room = (c: Cells) =>
    need
      ? Math.min(need.left - c.i, c.i + c.w - 1 - need.right, need.top - c.j, c.j + c.h - 1 - need.bottom)
      : -Math.hypot(c.i + c.w / 2 - columns / 2, c.j + c.h / 2 - rows / 2);
  return candidates.reduce<Cells | null>((best, c) => (!best || room(c) > room(best) ? c : best), null);
}

/**
 * The largest rectangle of covered cells, free or of a ratio (width / height), that holds the places to be kept; null where there is none.
 * Any shape of the covered area.
 */
export function inscribedCrop(
  { cell, columns, rows, covered }: Coverage,
  view: { width: number; height: number },
  ratio: number | null,
  stay: Stay[] = [],
): Rectangle | null {
  const stays = stay.map((p) => ({ i: Math.floor(p.x / cell), j: Math.floor(p.y / cell) }));
  const need = stays.length
    ? {
        left: Math.min(...stays.map((k) => k.i)),
        right: Math.max(...stays.map((k) => k.i)),
        top: Math.min(...stays.map((k) => k.j)),
        bottom: Math.max(...stays.map((k) => k.j)),
      }
    : null;
  // per cell, how many covered cells lie above it and with it
  const tall = new Int32Array(columns);
  const candidates: { i: number; j: number; w: number; h: number }[] = [];
  let largest = 0;
  const consider = (i0: number, i1: number, bottom: number, h: number) => {
    // columns i0..i1 are covered for h rows up to `bottom`
    const open = { i: i0, j: bottom - h + 1, w: i1 - i0 + 1, h };
    if (ratio === null && open.w * open.h < NEARLY * largest) return;
    const fitted = ratio === null ? open : shaped(open, ratio, need);
    if (!fitted || (need && (need.left < fitted.i || need.right >= fitted.i + fitted.w || need.top < fitted.j || need.bottom >= fitted.j + fitted.h))) return;
    if (fitted.w * fitted.h < NEARLY * largest) return;
    largest = Math.max(largest, fitted.w * fitted.h);
    candidates.push(fitted);
  };
  for (let j = 0; j < rows; j++) {
    for (let i = 0; i < columns; i++) tall[i] = covered[j * columns + i] ? tall[i] + 1 : 0;
    // columns whose height still rises, with where a rectangle of that height begins
    const stack: { from: number; h: number }[] = [];
    for (let i = 0; i <= columns; i++) {
      const h = i < columns ? tall[i] : 0;
      let from = i;
      while (stack.length && stack[stack.length - 1].h > h) {
        const top = stack.pop()!;
        consider(top.from, i - 1, j, top.h);
        from = top.from;
      }
      if (h > 0 && (!stack.length || stack[stack.length - 1].h < h)) stack.push({ from, h });
    }
  }
  const found = bestPlaced(
    candidates.filter((c) => c.w * c.h >= (ratio === null && !need ? largest : NEARLY * largest)),
    need,
    columns,
    rows,
  );
  if (!found) return null;
  const x = found.i * cell;
  const y = found.j * cell;
  let width = Math.min(view.width - x, found.w * cell);
  let height = Math.min(view.height - y, found.h * cell);
  if (ratio !== null) {
    if (width > height * ratio) width = Math.round(height * ratio);
    else height = Math.round(width / ratio);
  }
  return { x, y, width, height };
}
