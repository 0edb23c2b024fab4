import type { Camera } from "./camera";
import { basisAt, CONTROLS, splineAt, type Bend } from "./bend";
import { coverageOf, type Coverage } from "./coverage";
import type { PanoramaView } from "./layout";

/** Cells across the longer side on which the border of what is covered is looked for. */
const CELLS = 400;
/** Places along a side at which a bend has to reach what is covered. */
const PLACES = 160;
/** No side is moved further than this share of the picture. Common practice, no source. */
const MOST = 0.25;
const ROUNDS = 60;
const STEP = 0.15;

/** The same view with its border bent outwards. @param amount 0..1 of what fills the rectangle; 0 takes a bend away */
export function bentView(view: PanoramaView, cameras: Camera[], amount: number): PanoramaView {
  const flat = { ...view, bend: null };
  if (amount <= 0) return flat;
  const bend = findBend(coverageOf(flat, cameras, CELLS), view.width, view.height);
  return bend ? { ...flat, bend: { ...bend, amount: Math.min(1, amount) } } : flat;
}

type Reach = (line: number) => number | null;

/**
 * The smoothest bend found that brings what is covered to all four sides of the picture: from corner to corner of the covered area, along each
 * side never less than is missing there. @returns null where nothing is covered
 */
export function findBend(coverage: Coverage, width: number, height: number): Bend | null {
  const { cell, columns, rows, covered } = coverage;
  const corner = cornerOf(coverage);
  if (!corner) return null;
  const [w, h] = [width - 1, height - 1];
  const [tl, tr, bl, br] = [corner(0, 0), corner(1, 0), corner(0, 1), corner(1, 1)];
  // px from a side to the first that is covered, along a column or a row
  const reach =
    (count: number, at: (line: number, k: number) => number): Reach =>
    (line) => {
      for (let k = 0; k < count; k++) if (covered[at(line, k)]) return k * cell;
      return null;
    };
  const column = (x: number) => Math.min(columns - 1, Math.max(0, Math.floor(x / cell)));
  const row = (y: number) => Math.min(rows - 1, Math.max(0, Math.floor(y / cell)));
  const side = (reachOf: Reach, most: number, along: (t: number) => number, ends: [number, number]) => coverSide((t) => reachOf(along(t)), most * MOST, ends);
  const across = (from: { x: number }, to: { x: number }) => (t: number) => column(from.x + (w - from.x - to.x) * t);
  const down = (from: { y: number }, to: { y: number }) => (t: number) => row(from.y + (h - from.y - to.y) * t);
  return {
    amount: 1,
    top: side(
      reach(rows, (i, k) => k * columns + i),
      h,
      across(tl, tr),
      [tl.y, tr.y],
    ),
    bottom: side(
      reach(rows, (i, k) => (rows - 1 - k) * columns + i),
      h,
      across(bl, br),
      [bl.y, br.y],
    ),
    left: side(
      reach(columns, (j, k) => j * columns + k),
      w,
      down(tl, bl),
      [tl.x, bl.x],
    ),
    right: side(
      reach(columns, (j, k) => j * columns + columns - 1 - k),
      w,
      down(tr, br),
      [tr.x, br.x],
    ),
  };
}

/** How far inwards of a corner of the picture the nearest corner of what is covered lies, px. */
function cornerOf({ cell, columns, rows, covered }: Coverage): ((right: 0 | 1, low: 0 | 1) => { x: number; y: number }) | null {
  if (!covered.some((v) => v)) return null;
  return (right, low) => {
    let best = { x: 0, y: 0, far: Infinity };
    covered.forEach((on, i) => {
      if (!on) return;
      const [c, r] = [i % columns, Math.floor(i / columns)];
      const [x, y] = [right ? columns - 1 - c : c, low ? rows - 1 - r : r];
      if (x + y < best.far) best = { x, y, far: x + y };
    });
    return { x: best.x * cell, y: best.y * cell };
  };
}

/** Control points of a curve that lies at or above what is missing everywhere along a side, as closely as so few of them can. */
function coverSide(missing: (t: number) => number | null, most: number, ends: [number, number]): number[] {
  const places = Array.from({ length: PLACES + 1 }, (_, i) => i / PLACES);
  const wanted = places.map((t, i) => {
    const px = i === 0 ? ends[0] : i === PLACES ? ends[1] : missing(t);
    return px === null ? null : Math.min(most, px);
  });
  const controls = new Array<number>(CONTROLS).fill(0);
  // first along what is missing, then above it
  for (let round = 0; round < 2 * ROUNDS; round++) {
    places.forEach((t, i) => {
      const lack = (wanted[i] ?? 0) - splineAt(controls, t);
      if (round >= ROUNDS && lack <= 0) return;
      const { first, weights } = basisAt(t);
      const square = weights.reduce((sum, v) => sum + v * v, 0);
      weights.forEach((v, k) => (controls[first + k] += (STEP * lack * v) / square));
    });
  }
  // what is still missing is little; the whole side makes it up, as the weights add up to one
  const rest = places.reduce((worst, t, i) => Math.max(worst, (wanted[i] ?? 0) - splineAt(controls, t)), 0);
  return controls.map((c) => Math.min(most, Math.max(0, c + rest)));
}
