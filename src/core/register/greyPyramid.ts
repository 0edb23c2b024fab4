import type { SourceRaster } from "../raster/raster";
import { sharedU16 } from "../raster/sharedArrays";
import type { GreyLevel } from "./refine";

/** Encoded grey of a frame, 0..65535; coarser levels are means of 2×2. One kind of array for all, so that loops over them are compiled for it. */
export interface GreyPyramid {
  width: number;
  height: number;
  base: Uint16Array;
  /** levels[l] for l ≥ 1; levels[0] is unused */
  levels: GreyLevel[];
}

/** Grey that stands for "no usable light": a channel is clipped, so the others do not tell the exposure any more. */
export const CLIPPED_GREY = 65535;

/** Encoded grey 0..65535 of one pixel, or CLIPPED_GREY. @param top the largest code of the samples */
export function greyOf(r: number, g: number, b: number, top: number): number {
  return Math.max(r, g, b) > 0.98 * top ? CLIPPED_GREY : ((r + 2 * g + b) * (65535 / 4)) / top + 0.5;
}

/**
 * @param source interleaved RGB; grey is (R + 2 G + B) / 4 of the encoded values
 * @param encode code of the source → encoded 0..1, where the source is not encoded for a screen (linear light)
 */
export function buildGreyPyramid(source: SourceRaster, encode?: (code: number) => number): GreyPyramid {
  const { width, height, data, bits } = source;
  const base = sharedU16(width * height);
  const top = bits === 8 ? 255 : 65535;
  if (encode) for (let i = 0, p = 0; i < base.length; i++, p += 3) base[i] = greyOf(encode(data[p]), encode(data[p + 1]), encode(data[p + 2]), 1);
  else for (let i = 0, p = 0; i < base.length; i++, p += 3) base[i] = greyOf(data[p], data[p + 1], data[p + 2], top);
  return pyramidFromBase(width, height, base);
}

const COARSEST_SIDE = 96;

export function pyramidFromBase(width: number, height: number, base: Uint16Array): GreyPyramid {
  const levels: GreyLevel[] = [{ width, height, data: new Uint16Array(0) }];
  let below: GreyLevel = { width, height, data: base };
  while (Math.max(below.width, below.height) > COARSEST_SIDE * 1.5 && Math.min(below.width, below.height) > 16) {
    const next = halve(below);
    levels.push(next);
    below = next;
  }
  return { width, height, base, levels };
}

/** Means of 2×2; clipped samples are left out of a mean, and two of them make it clipped. */
function halve(p: GreyLevel): GreyLevel {
  const width = (p.width + 1) >> 1;
  const height = (p.height + 1) >> 1;
  const data = sharedU16(width * height);
  const src = p.data;
  for (let y = 0; y < height; y++) {
    const upper = 2 * y * p.width;
    const lower = Math.min(2 * y + 1, p.height - 1) * p.width;
    for (let x = 0; x < width; x++) {
      const a = 2 * x;
      const b = Math.min(a + 1, p.width - 1);
      const [c0, c1, c2, c3] = [src[upper + a], src[upper + b], src[lower + a], src[lower + b]];
      let sum = c0 + c1 + c2 + c3;
      if (sum > CLIPPED_GREY) {
        const clipped = Number(c0 === CLIPPED_GREY) + Number(c1 === CLIPPED_GREY) + Number(c2 === CLIPPED_GREY) + Number(c3 === CLIPPED_GREY);
        sum = clipped >= 2 ? 4 * CLIPPED_GREY : clipped === 1 ? ((sum - CLIPPED_GREY) * 4) / 3 : sum;
      }
      data[y * width + x] = sum * 0.25 + 0.5;
    }
  }
  return { width, height, data };
}

/** Samples of one level. */
export function levelOf(pyramid: GreyPyramid, level: number): GreyLevel {
  return level === 0 ? { width: pyramid.width, height: pyramid.height, data: pyramid.base } : pyramid.levels[level];
}

export function coarsestLevel(pyramid: GreyPyramid): number {
  return pyramid.levels.length - 1;
}
