import type { SourceRaster } from "./raster";

/**
 * Turns a raster upright. @param orientation EXIF tag 0x0112, 1 to 8 (Exif 2.32, table 6); anything else counts as 1
 */
export function applyOrientation(source: SourceRaster, orientation: number): SourceRaster {
  const { width, height, data } = source;
  const swap = orientation >= 5 && orientation <= 8;
  return { ...source, width: swap ? height : width, height: swap ? width : height, data: oriented(data, source, orientation, 3) };
}

/** The same of one plane beside it. */
export const orientPlane = <T extends SourceRaster["data"]>(data: T, size: { width: number; height: number }, orientation: number): T =>
  oriented(data, size, orientation, 1);

function oriented<T extends SourceRaster["data"]>(
  data: T,
  { width: w, height: h }: { width: number; height: number },
  orientation: number,
  samples: number,
): T {
  if (!(orientation >= 2 && orientation <= 8)) return data;
  const swap = orientation >= 5;
  const [width, height] = swap ? [h, w] : [w, h];
  const mirrorX = orientation === 2 || orientation === 3 || orientation === 7 || orientation === 8;
  const mirrorY = orientation === 3 || orientation === 4 || orientation === 6 || orientation === 7;
  const out = data.slice() as T;
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const [u, v] = swap ? [y, x] : [x, y];
      const from = ((mirrorY ? h - 1 - v : v) * w + (mirrorX ? w - 1 - u : u)) * samples;
      const to = (y * width + x) * samples;
      for (let c = 0; c < samples; c++) out[to + c] = data[from + c];
    }
  }
  return out;
}

/** By how many quarters something is turned clockwise. */
export type QuarterTurns = 0 | 1 | 2 | 3;

/** The orientation that none to three quarter turns clockwise are. */
const TURNED = [1, 6, 3, 8];

/** Turns a raster clockwise by quarters. */
export const turnQuarters = (source: SourceRaster, quarterTurns: QuarterTurns): SourceRaster => applyOrientation(source, TURNED[quarterTurns]);

/** The same of one plane beside it. */
export const turnPlane = <T extends SourceRaster["data"]>(data: T, size: { width: number; height: number }, quarterTurns: QuarterTurns): T =>
  orientPlane(data, size, TURNED[quarterTurns]);
