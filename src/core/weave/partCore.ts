import { connectedCells } from "../masks/components";
import { median } from "../numeric/statistics";
import { boxMean } from "../raster/boxMean";
import type { Rectangle } from "../geometry/rectangle";

/** Difference of two pictures from which they show different things: so many spreads over the middle of what lies around, and at least, encoded. Common practice, no source. */
const [SPREADS, LEAST] = [6, 0.06];
/** Lines thinner than this share of the box's shorter side are no thing, nor is what is smaller than this share of the box. Common practice, no source. */
const [THIN, SMALL] = [0.05, 0.004];
/** How far around a thing its edge may lie, samples. */
const EDGE = 2;
/** What has to come along, and what probably does. */
export const [SOLID, LIKELY] = [2, 1];
/** A square of which so much differs is solid. */
const MOSTLY = 0.65;

/**
 * What has to come along where a part is taken from another picture: the thing as the one shows it and as the other does, so that nothing of either is cut.
 * @param below @param above encoded planes 0..1 @param box where it lies, samples @returns SOLID where it is, LIKELY where what hangs on it may be; nothing where both show the same
 */
export function partCore(below: Float32Array[], above: Float32Array[], box: Rectangle, width: number, height: number): Uint8Array {
  const n = width * height;
  const raw = new Float32Array(n);
  for (let i = 0; i < n; i++) for (let c = 0; c < 3; c++) raw[i] += Math.abs(below[c][i] - above[c][i]) / 3;
  const differs = boxMean({ width, height, data: raw }, 1);
  const isIn = (i: number) => {
    const x = i % width;
    const y = (i - x) / width;
    return x >= box.x && y >= box.y && x < box.x + box.width && y < box.y + box.height;
  };
  const around = differs.filter((_, i) => !isIn(i));
  const middle = median(around);
  const limit = Math.max(LEAST, middle + SPREADS * 1.4826 * median(around.map((v) => Math.abs(v - middle))));
  const on = Float32Array.from(differs, (v, i) => (v > limit && isIn(i) ? 1 : 0));
  const thin = Math.max(2, Math.round((THIN * Math.min(box.width, box.height)) / 2));
  const solid = boxMean({ width, height, data: on }, thin);
  const core = Uint8Array.from(solid, (v, i) => (v > MOSTLY && isIn(i) ? 1 : 0));
  const least = SMALL * box.width * box.height;
  for (const cells of connectedCells(core, width, height)) if (cells.length < least) for (const i of cells) core[i] = 0;
  grow(core, width, height, EDGE, isIn);
  // where both lie on each other they differ little: that is the thing, too
  const rest = core.map((v) => 1 - v);
  for (const cells of connectedCells(rest, width, height))
    if (cells.every(isIn) && !cells.some((i) => touches(i, box, width))) for (const i of cells) core[i] = 1;
  // fingers come back with what they hang on; lines behind them may, too
  const wide = core.slice();
  grow(wide, width, height, 2 * thin, (i) => on[i] === 1);
  grow(wide, width, height, EDGE, isIn);
  return wide.map((v, i) => (core[i] ? SOLID : v ? LIKELY : 0));
}

function touches(i: number, { x, y, width, height }: Rectangle, columns: number): boolean {
  const [u, v] = [i % columns, Math.floor(i / columns)];
  return u === x || v === y || u === x + width - 1 || v === y + height - 1;
}

function grow(on: Uint8Array, width: number, height: number, by: number, isIn: (i: number) => boolean): void {
  const near = boxMean({ width, height, data: Float32Array.from(on) }, by);
  for (let i = 0; i < on.length; i++) if (near[i] > 1e-6 && isIn(i)) on[i] = 1;
}
