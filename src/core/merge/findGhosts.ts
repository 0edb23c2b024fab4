import { runsOf } from "../masks/cellRuns";
import { boundsOfCells, connectedCells } from "../masks/components";

/** What one frame shows in each cell. Light is linear, 1 the frame's own white. */
export interface GhostCells {
  /** mean light, three channels one after the other */
  mean: Float32Array;
  /** largest and smallest sample of any channel */
  top: Float32Array;
  bottom: Float32Array;
  /** largest less smallest luminance in the cell and its neighbours */
  range: Float32Array;
  /** 1 where the frame covers the cell */
  covered: Uint8Array;
}

export interface GhostNoise {
  shot: number;
  readSquared: number;
}

/** Multiples of the noise from which frames are taken to differ, unless another is chosen. Common practice, no source. */
export const GHOST_THRESHOLD = 6;
/** Light above which, and below which, a frame only says "more" or "less than that". Common practice, no source. */
const BRIGHTEST = 0.8;
const DARKEST = 0.0012;
/** What is allowed besides noise: exposure and response not quite known, and a misfit as a share of the range in a cell. Common practice, no source. */
const GAIN_ERROR = 0.04;
const MISFIT = 0.2;
/** Samples of a cell that count as independent, less than there are because neighbours share what a coder and a resampling did to them. */
const INDEPENDENT = 4;
/** An area grows from what is over the threshold to what is over this share of it. */
const GROWTH = 0.4;
const FEWEST_CELLS = 8;
const MOST_REGIONS = 40;
/** Areas nearer than this are one, cells. */
const REACH = 3;

/** Whether two frames differ in a cell, in multiples of what noise, exposure and misfit explain. */
export function differenceAt(a: GhostCells, b: GhostCells, gainA: number, gainB: number, noise: GhostNoise, i: number, cells: number): number {
  if (!a.covered[i] || !b.covered[i]) return 0;
  let sum = 0;
  const clippedA = a.top[i] > BRIGHTEST;
  const clippedB = b.top[i] > BRIGHTEST;
  if (clippedA && clippedB) return 0;
  // an edge that is out of place is in both frames; one that only one of them has is a change
  const misfit = (MISFIT * Math.min(a.range[i] / gainA, b.range[i] / gainB)) ** 2;
  for (let c = 0; c < 3; c++) {
    const [x, y] = [a.mean[c * cells + i], b.mean[c * cells + i]];
    const darkA = x < DARKEST;
    const darkB = y < DARKEST;
    if (darkA && darkB) continue;
    // of a clipped frame only "at least this", of a black one only "at most that"
    const p = clippedA ? Math.max(x, BRIGHTEST) / gainA : darkA ? DARKEST / gainA : x / gainA;
    const q = clippedB ? Math.max(y, BRIGHTEST) / gainB : darkB ? DARKEST / gainB : y / gainB;
    if ((clippedA && q > (0.7 * x) / gainA) || (clippedB && p > (0.7 * y) / gainB)) continue;
    if ((darkA && q < p * 1.5) || (darkB && p < q * 1.5)) continue;
    const noiseA = (noise.shot * Math.max(x, DARKEST) + noise.readSquared) / gainA ** 2;
    const noiseB = (noise.shot * Math.max(y, DARKEST) + noise.readSquared) / gainB ** 2;
    const variance = (noiseA + noiseB) / INDEPENDENT + (GAIN_ERROR * Math.max(p, q)) ** 2 + misfit;
    sum += (p - q) ** 2 / variance;
  }
  return Math.sqrt(sum / 3);
}

/**
 * The same for frames that are focused differently: each is taken for the other blurred where its light lies between the least and the most that
 * the other has around, so what differs is neither a blur nor what a blurred thing in front spreads over.
 * @param reach cells around, as far as one frame is blurred more than the other
 */
export function differenceBeyondBlur(
  a: GhostCells,
  b: GhostCells,
  gainA: number,
  gainB: number,
  noise: GhostNoise,
  columns: number,
  reach: number,
): Float32Array {
  const cells = a.covered.length;
  const asBlurredB = { ...a, mean: heldTo(a.mean, b.mean, gainB / gainA, columns, reach) };
  const asBlurredA = { ...b, mean: heldTo(b.mean, a.mean, gainA / gainB, columns, reach) };
  const explained = (mean: Float32Array, held: Float32Array, i: number) =>
    mean[i] === held[i] && mean[cells + i] === held[cells + i] && mean[2 * cells + i] === held[2 * cells + i];
  const out = new Float32Array(cells);
  for (let i = 0; i < cells; i++) {
    if (explained(a.mean, asBlurredB.mean, i) || explained(b.mean, asBlurredA.mean, i)) continue;
    out[i] = Math.min(differenceAt(a, asBlurredB, gainA, gainA, noise, i, cells), differenceAt(b, asBlurredA, gainB, gainB, noise, i, cells));
  }
  return out;
}

/** Light of a frame held to what another has around each cell. @param gain the other's light over the frame's */
function heldTo(mean: Float32Array, other: Float32Array, gain: number, columns: number, reach: number): Float32Array {
  const cells = mean.length / 3;
  const out = new Float32Array(mean.length);
  for (let c = 0; c < 3; c++) {
    const plane = other.subarray(c * cells, (c + 1) * cells);
    const [least, most] = [extremeAround(plane, columns, reach, "least"), extremeAround(plane, columns, reach, "most")];
    for (let i = 0, at = c * cells; i < cells; i++, at++) {
      const v = mean[at];
      const low = least[i] / gain;
      const high = most[i] / gain;
      out[at] = v < low ? low : v > high ? high : v;
    }
  }
  return out;
}

/** Least or most of a square around each cell. */
export function extremeAround(plane: Float32Array, columns: number, reach: number, which: "least" | "most"): Float32Array {
  let out = plane;
  for (let pass = 0; pass < reach; pass++) out = extremeOfThree(extremeOfThree(out, columns, 1, which === "most"), columns, columns, which === "most");
  return out;
}

/** Of each cell and its neighbours across or down. @param step to the next cell in that direction */
function extremeOfThree(plane: Float32Array, columns: number, step: number, most: boolean): Float32Array {
  const out = plane.slice();
  const rows = plane.length / columns;
  const [fromX, fromY] = step === 1 ? [1, 0] : [0, 1];
  // each pair of neighbours once, for both
  for (let y = fromY; y < rows; y++) {
    for (let i = y * columns + fromX; i < (y + 1) * columns; i++) {
      const before = plane[i - step];
      const here = plane[i];
      if (most ? before > out[i] : before < out[i]) out[i] = before;
      if (most ? here > out[i - step] : here < out[i - step]) out[i - step] = here;
    }
  }
  return out;
}

/** An area where frames differ. */
export interface GhostArea {
  runs: number[];
  strength: number;
  cells: number;
}

/** Areas over a threshold, joined where they nearly touch, filled, a little wider than what was seen; the largest first. */
export function areasOver(difference: Float32Array, columns: number, rows: number, threshold: number): GhostArea[] {
  const n = columns * rows;
  const on = new Uint8Array(n);
  const stack: number[] = [];
  for (let i = 0; i < n; i++) if (difference[i] >= threshold && !isLonely(difference, i, columns, rows, threshold)) on[i] = 1;
  for (let i = 0; i < n; i++) if (on[i]) stack.push(i);
  while (stack.length) {
    const i = stack.pop()!;
    for (const j of neighbours(i, columns, rows)) {
      if (on[j] || difference[j] < threshold * GROWTH) continue;
      on[j] = 1;
      stack.push(j);
    }
  }
  const wide = widen(on, columns, rows, REACH);
  const areas: GhostArea[] = [];
  for (const list of connectedCells(wide, columns, rows)) {
    const seen = list.filter((i) => on[i]);
    if (seen.length < FEWEST_CELLS) continue;
    const strength = seen.reduce((top, i) => Math.max(top, difference[i]), 0);
    areas.push({ ...filled(list, columns), strength });
  }
  return areas.sort((p, q) => q.cells - p.cells).slice(0, MOST_REGIONS);
}

/** A cell over the threshold without two neighbours that differ too is noise. */
function isLonely(difference: Float32Array, i: number, columns: number, rows: number, threshold: number): boolean {
  let company = 0;
  for (const j of neighbours(i, columns, rows)) if (difference[j] >= threshold * GROWTH) company++;
  return company < 2;
}

function neighbours(i: number, columns: number, rows: number): number[] {
  const x = i % columns;
  const y = (i - x) / columns;
  const out: number[] = [];
  for (let v = Math.max(0, y - 1); v <= Math.min(rows - 1, y + 1); v++) {
    for (let u = Math.max(0, x - 1); u <= Math.min(columns - 1, x + 1); u++) if (u !== x || v !== y) out.push(v * columns + u);
  }
  return out;
}

function widen(on: Uint8Array, columns: number, rows: number, by: number): Uint8Array {
  const across = new Uint8Array(on.length);
  const out = new Uint8Array(on.length);
  for (let i = 0; i < on.length; i++) {
    if (!on[i]) continue;
    const x = i % columns;
    across.fill(1, i - Math.min(x, by), i + Math.min(columns - 1 - x, by) + 1);
  }
  for (let i = 0; i < on.length; i++) {
    if (!across[i]) continue;
    const y = Math.floor(i / columns);
    for (let v = Math.max(0, y - by); v <= Math.min(rows - 1, y + by); v++) out[v * columns + (i % columns)] = 1;
  }
  return out;
}

/** Cells of an area with its holes. */
function filled(list: number[], columns: number): { runs: number[]; cells: number } {
  const { x0, y0, x1, y1 } = boundsOfCells(list, columns);
  // one cell of outside all around, from where the outside is flooded
  const [w, h] = [x1 - x0 + 3, y1 - y0 + 3];
  const on = new Uint8Array(w * h);
  for (const i of list) on[(Math.floor(i / columns) - y0 + 1) * w + (i % columns) - x0 + 1] = 1;
  const outside = new Uint8Array(w * h);
  const stack = [0];
  outside[0] = 1;
  while (stack.length) {
    const i = stack.pop()!;
    const x = i % w;
    for (const j of [x > 0 ? i - 1 : -1, x + 1 < w ? i + 1 : -1, i - w, i + w]) {
      if (j < 0 || j >= w * h || outside[j] || on[j]) continue;
      outside[j] = 1;
      stack.push(j);
    }
  }
  const inner = new Uint8Array((w - 2) * (h - 2));
  let cells = 0;
  for (let y = 1; y + 1 < h; y++) {
    for (let x = 1; x + 1 < w; x++) {
      if (outside[y * w + x]) continue;
      inner[(y - 1) * (w - 2) + x - 1] = 1;
      cells++;
    }
  }
  return { runs: runsOf(inner, w - 2, h - 2, x0, y0), cells };
}
