import { LUMINANCE } from "../color/primaries";
import { exp2, log2 } from "../numeric/elementary";
import { enlargedRow } from "../raster/enlargedRow";
import type { Filters } from "../raster/filters";
import type { TileRegion } from "../adjust/spatial";
import type { SeenLight } from "./hazePlaces";

/** The light of air, linear red, green and blue, and how much more than green each channel is hidden, times. */
export interface AirLight {
  color: readonly number[];
  hides: readonly number[];
}

/** log2 of the light of green that comes through, as slope · log2 luminance + offset, at a coarse level of so many samples' width; smooth, so that edges come from the picture. */
export interface AirMap {
  width: number;
  height: number;
  level: number;
  slope: Float32Array;
  offset: Float32Array;
}

/** Side of a patch that is equally far away, and of a window in which the light that comes through follows the picture, of the width; variance of log2 light that counts as even. @see He, Sun, Tang 2009: patches of 15 px on 600 (recalled from memory) */
const [PATCH, WINDOW, EVEN] = [15 / 600, 40 / 600, 0.02];
/** Haze that is left even where air explains all, as far things look right with some. @see He, Sun, Tang 2009: ω = 0.95 (recalled from memory) */
const EXPLAINS = 0.95;
const DARKEST = 1e-5;
/** What is that much darker than the air, of its light, is cleared all the way. Common practice, no source. */
const TELLS = 0.12;
/** Least light that is taken to come through, log2. */
const LEAST_LOG = -8;

/** log2 luminance, by which edges are followed. */
const guideOf = (r: number, g: number, b: number): number => log2(Math.max(DARKEST, LUMINANCE[0] * r + LUMINANCE[1] * g + LUMINANCE[2] * b));

/**
 * How much light comes through the air before each place: no less than what the air's light cannot explain of its darkest channel. @see He, Sun, Tang 2009, "Single image haze removal using
 * dark channel prior", equations 7 to 12, each channel hidden by its own share, and refined by the guided filter of 2010
 */
export function mapAir({ width, height, planes }: SeenLight, level: number, { color, hides }: AirLight, filters: Filters): AirMap {
  const guide = new Float32Array(width * height);
  const through = new Float32Array(width * height);
  for (let i = 0; i < guide.length; i++) {
    guide[i] = guideOf(planes[0][i], planes[1][i], planes[2][i]);
    let most = LEAST_LOG;
    for (let c = 0; c < 3; c++) {
      const left = 1 - EXPLAINS * Math.min(1, Math.max(0, planes[c][i]) / Math.max(DARKEST, color[c]));
      most = Math.max(most, log2(left) / hides[c]);
    }
    through[i] = most;
  }
  const patched = greatestAround(through, width, height, Math.max(1, Math.round((PATCH * width) / 2)));
  const coefficients = filters.guidedCoefficients({ width, height, data: guide }, patched, Math.max(1, Math.round((WINDOW * width) / 2)), EVEN);
  return { width, height, level, ...coefficients };
}

/** The greatest of the square around each place. */
function greatestAround(values: Float32Array, width: number, height: number, radius: number): Float32Array {
  const along = (from: Float32Array, count: number, step: number, lines: number, stride: number) => {
    const out = new Float32Array(from.length);
    for (let line = 0; line < lines; line++) {
      const start = line * stride;
      for (let k = 0; k < count; k++) {
        let most = -Infinity;
        for (let j = Math.max(0, k - radius); j <= Math.min(count - 1, k + radius); j++) most = Math.max(most, from[start + j * step]);
        out[start + k * step] = most;
      }
    }
    return out;
  };
  return along(along(values, width, 1, height, width), height, width, width, 1);
}

/**
 * Takes a share of the air before each place away, or lays as much again on, in place: A + (I − A) t^−amount. Air goes the less the nearer a place is to the air's own light, for what is left there
 * is noise and the colours of the sky; what is lighter than the air is not made of it, and stays. A tolerance as Jiang et al. 2013 have it (recalled from memory)
 * @param amount 1: all of it; below 0 it is laid on @param least light that is taken to come through, however thick the air
 */
export function clearAir(planes: Float32Array[], { level, rect }: TileRegion, { color, hides }: AirLight, amount: number, least: number, found: AirMap): void {
  const times = 2 ** (found.level - level);
  const floor = log2(least);
  const air = Math.max(DARKEST, LUMINANCE[0] * color[0] + LUMINANCE[1] * color[1] + LUMINANCE[2] * color[2]);
  const [slope, offset] = [new Float32Array(rect.width), new Float32Array(rect.width)];
  const [r, g, b] = planes;
  for (let j = 0; j < rect.height; j++) {
    enlargedRow({ ...found, data: found.slope }, times, rect.y + j, slope, rect.x);
    enlargedRow({ ...found, data: found.offset }, times, rect.y + j, offset, rect.x);
    for (let i = 0; i < rect.width; i++) {
      const k = j * rect.width + i;
      const through = Math.max(floor, Math.min(0, slope[i] * guideOf(r[k], g[k], b[k]) + offset[i]));
      // how much darker than the air it is
      const under = amount > 0 ? 1 - (LUMINANCE[0] * r[k] + LUMINANCE[1] * g[k] + LUMINANCE[2] * b[k]) / air : TELLS;
      if (under <= 0) continue;
      const told = Math.min(1, under / TELLS);
      for (let c = 0; c < 3; c++) {
        const gain = 1 + told * (exp2(-amount * hides[c] * through) - 1);
        planes[c][k] = Math.max(0, color[c] + (planes[c][k] - color[c]) * gain);
      }
    }
  }
}
