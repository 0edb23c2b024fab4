import { encodeSrgb } from "../color/srgbCurve";
import type { Rectangle } from "../geometry/rectangle";
import { log2 } from "../numeric/elementary";
import { median, quantile } from "../numeric/statistics";
import { boxMean } from "../raster/boxMean";
import type { Plane } from "../raster/raster";

/** Cells along the longer side of a place, in which frames are compared. */
export const PLACE_CELLS = 48;
/** How far around, in cells, the place is looked for in other frames. */
export const PLACE_MARGIN = 10;

/** What one frame shows in a place. */
export interface PlaceLook {
  /** mean light, EV to full scale */
  lightEv: number;
  /** share of the samples at the top of the range */
  clipped: number;
  /** RMS of the finest detail less the noise's, relative to the middle, of encoded light: in the quarter of the place that is sharpest, at least */
  sharpness: number;
  /** RMS of what is rougher than a cell and finer than five, EV; little where water or cloth lies still */
  ripple: number;
}

/** Ways to rank frames by a place, and whether more of the figure is better. */
export const PLACE_AIMS = {
  light: { of: "lightEv", more: true },
  shade: { of: "lightEv", more: false },
  smooth: { of: "ripple", more: false },
  sharp: { of: "sharpness", more: true },
  clear: { of: "covered", more: false },
} as const;
export type PlaceAim = keyof typeof PLACE_AIMS;

/** Side of the blocks in which detail is weighed, px. */
const BLOCK = 8;

/** Added to light before its logarithm, so that noise in the dark is no structure. */
const FLOOR = 2 ** -10;

/** log2 of mean light in square cells of `side` px; cells that reach over the border of the field are left out. */
export function cellsOfPlace(light: Plane, side: number): Plane {
  const [width, height] = [Math.floor(light.width / side), Math.floor(light.height / side)];
  const data = new Float32Array(width * height);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      let sum = 0;
      for (let v = 0; v < side; v++) for (let u = 0; u < side; u++) sum += light.data[(y * side + v) * light.width + x * side + u];
      data[y * width + x] = log2(FLOOR + sum / (side * side));
    }
  }
  return { width, height, data };
}

/** @param light linear luminance 0..1 of the place @param sigma noise of the frame, encoded, 0..1 @param cells of the same place */
export function lookAtPlace(light: Plane, sigma: number, cells: Plane): PlaceLook {
  const { width, height, data } = light;
  const encoded = data.map((v) => encodeSrgb(Math.min(1, Math.max(0, v))));
  let [sum, clipped] = [0, 0];
  for (let i = 0; i < data.length; i++) {
    sum += data[i];
    if (data[i] >= 0.995) clipped++;
  }
  const fine = quantile(fineEnergy({ width, height, data: encoded }), 0.75);
  const base = boxMean(cells, 2);
  const rough = cells.data.reduce((s, v, i) => s + (v - base[i]) ** 2, 0) / cells.data.length;
  return {
    lightEv: log2(Math.max(FLOOR, sum / data.length)),
    clipped: clipped / data.length,
    // second differences of white noise have six times its variance
    sharpness: Math.sqrt(Math.max(0, fine - 6 * sigma * sigma)) / Math.max(0.01, median(encoded)),
    ripple: Math.sqrt(rough),
  };
}

/** Mean square of second differences in each block of px: one hard edge, as of somebody in the way, makes few of them high. */
function fineEnergy({ width, height, data }: Plane): number[] {
  const energies: number[] = [];
  for (let top = 1; top + 1 < height; top += BLOCK) {
    for (let left = 1; left + 1 < width; left += BLOCK) {
      const [right, bottom] = [Math.min(width - 1, left + BLOCK), Math.min(height - 1, top + BLOCK)];
      let sum = 0;
      for (let y = top; y < bottom; y++) {
        for (let i = y * width + left; i < y * width + right; i++) {
          const across = data[i - 1] - 2 * data[i] + data[i + 1];
          const down = data[i - width] - 2 * data[i] + data[i + width];
          sum += (across * across + down * down) / 2;
        }
      }
      energies.push(sum / ((right - left) * (bottom - top)));
    }
  }
  return energies.length ? energies : [0];
}

/**
 * Where a place lies in a frame that was not registered: the position of most correlation of log light, which no exposure changes.
 * @param wanted cells of the place in the frame it was pointed at @param around cells of the other frame there and around
 * @returns its upper left cell in `around`, or null where nothing is alike enough to tell
 */
export function findPlace(wanted: Plane, around: Plane): { x: number; y: number } | null {
  const [place, searched] = [calmed(wanted), calmed(around)];
  let best = { x: 0, y: 0 };
  let most = -1;
  for (let y = 0; y <= around.height - wanted.height; y++) {
    for (let x = 0; x <= around.width - wanted.width; x++) {
      const likeness = correlation(place, searched, x, y);
      if (likeness > most) [best, most] = [{ x, y }, likeness];
    }
  }
  return most >= ALIKE ? best : null;
}

/** Spreads to which values are held, so that somebody in the way does not outweigh the scene. Common practice, no source. */
const HELD_SPREADS = 2;

function calmed(field: Plane): Plane {
  const middle = median(field.data);
  const spread = HELD_SPREADS * 1.4826 * median(field.data.map((v) => Math.abs(v - middle)));
  return { ...field, data: field.data.map((v) => Math.min(middle + spread, Math.max(middle - spread, v))) };
}

/** Correlation from which two places are taken for the same; common practice, no source. */
const ALIKE = 0.4;

function correlation(a: Plane, b: Plane, ox: number, oy: number): number {
  let [sa, sb, saa, sbb, sab] = [0, 0, 0, 0, 0];
  for (let y = 0; y < a.height; y++) {
    for (let x = 0; x < a.width; x++) {
      const [p, q] = [a.data[y * a.width + x], b.data[(y + oy) * b.width + x + ox]];
      sa += p;
      sb += q;
      saa += p * p;
      sbb += q * q;
      sab += p * q;
    }
  }
  const n = a.data.length;
  return (sab - (sa * sb) / n) / Math.sqrt(Math.max(1e-12, (saa - (sa * sa) / n) * (sbb - (sb * sb) / n)));
}

/** A part of a field. */
export function partOf(field: Plane, { x, y, width, height }: Rectangle): Plane {
  const data = new Float32Array(width * height);
  for (let v = 0; v < height; v++) data.set(field.data.subarray((y + v) * field.width + x, (y + v) * field.width + x + width), v * width);
  return { width, height, data };
}

/** EV by which a cell has to differ from what most frames show, where they agree with each other. */
const LEAST_EV = 0.35;

/**
 * Share of a place in which a frame differs from what most frames show, after its own light is made equal: somebody or something in the way.
 * @param cells of the place in every frame, all of one size
 */
export function coveredShares(cells: Plane[]): number[] {
  if (cells.length < 3) return cells.map(() => 0);
  const n = cells[0].data.length;
  const own = cells.map((c) => median(c.data));
  const [usual, spread] = [new Float32Array(n), new Float32Array(n)];
  for (let i = 0; i < n; i++) {
    const values = cells.map((c, k) => c.data[i] - own[k]);
    usual[i] = median(values);
    spread[i] = median(values.map((v) => Math.abs(v - usual[i])));
  }
  return cells.map((c, k) => {
    const off = c.data.map((v, i) => v - own[k] - usual[i]);
    const level = median(off);
    // a cell by itself is detail that lies a little elsewhere; what stands in the way covers its neighbours too
    const odd = off.map((v, i) => (Math.abs(v - level) > Math.max(LEAST_EV, 4 * spread[i]) ? 1 : 0));
    const around = boxMean({ width: c.width, height: c.height, data: odd }, 1);
    return odd.reduce((sum, v, i) => sum + (v && around[i] > 0.5 ? 1 : 0), 0) / n;
  });
}
