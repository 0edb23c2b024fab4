import type { SourceRaster } from "./raster";

/**
 * Turns a raster upright. @param orientation EXIF tag 0x0112, 1 to 8 (Exif 2.32, table 6); anything else counts as 1
 */
export function applyOrientation(source: SourceRaster, orientation: number): SourceRaster {
  if (!(orientation >= 2 && orientation <= 8)) return source;
  const { width: w, height: h, data } = source;
  const swap = orientation >= 5;
  const width = swap ? h : w;
  const height = swap ? w : h;
  const out = data.slice();
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const [u, v] = swap ? [y, x] : [x, y];
      const mirrorX = orientation === 2 || orientation === 3 || orientation === 7 || orientation === 8;
      const mirrorY = orientation === 3 || orientation === 4 || orientation === 6 || orientation === 7;
      const from = ((mirrorY ? h - 1 - v : v) * w + (mirrorX ? w - 1 - u : u)) * 3;
      const to = (y * width + x) * 3;
      out[to] = data[from];
      out[to + 1] = data[from + 1];
      out[to + 2] = data[from + 2];
    }
  }
  return { ...source, width, height, data: out };
}

/** By how many quarters something is turned clockwise. */
export type QuarterTurns = 0 | 1 | 2 | 3;

/** The orientation that none to three quarter turns clockwise are. */
const TURNED = [1, 6, 3, 8];

/** Turns a raster clockwise by quarters. */
export const turnQuarters = (source: SourceRaster, quarterTurns: QuarterTurns): SourceRaster => applyOrientation(source, TURNED[quarterTurns]);
