import { decodeSrgb } from "../color/srgbCurve";
import { weightedMedian } from "../numeric/statistics";

/** A small linear luminance picture of a frame, block means; for comparing exposures without registration. */
export interface Thumbprint {
  width: number;
  height: number;
  /** linear 0..1 */
  linear: Float32Array;
  /** share of clipped samples in the block, 0..1 */
  clipped: Float32Array;
}

const table = Float32Array.from({ length: 4097 }, (_, i) => decodeSrgb(i / 4096));

/** Linear value of an encoded grey 0..65535. */
export function linearOfGrey(v: number): number {
  return table[Math.min(4096, Math.max(0, Math.round(v / 16)))];
}

/**
 * A thumbprint from green samples at a coarse display level, with every channel checked for clipping: a clipped red or blue
 * would make the brighter frame look too dark. @param planes encoded R, G, B on one scale 0..top
 */
export function thumbprintOfPlanes(planes: ArrayLike<number>[], width: number, height: number, top: number): Thumbprint {
  const n = width * height;
  const linear = new Float32Array(n);
  const clipped = new Float32Array(n);
  const [r, g, b] = planes;
  for (let i = 0; i < n; i++) {
    linear[i] = linearOfGrey((g[i] / top) * 65535);
    clipped[i] = Math.max(r[i], g[i], b[i]) > 0.78 * top ? 1 : 0;
  }
  return { width, height, linear, clipped };
}

/** @param side blocks along the longer side */
export function thumbprint(grey: { width: number; height: number; data: ArrayLike<number> }, side = 48): Thumbprint {
  const block = Math.max(1, Math.floor(Math.max(grey.width, grey.height) / side));
  const width = Math.max(1, Math.floor(grey.width / block));
  const height = Math.max(1, Math.floor(grey.height / block));
  const linear = new Float32Array(width * height);
  const clipped = new Float32Array(width * height);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      let sum = 0;
      let over = 0;
      for (let v = 0; v < block; v++) {
        for (let u = 0; u < block; u++) {
          const value = grey.data[(y * block + v) * grey.width + x * block + u];
          sum += linearOfGrey(value);
          if (value > 62000) over++;
        }
      }
      linear[y * width + x] = sum / (block * block);
      clipped[y * width + x] = over / (block * block);
    }
  }
  return { width, height, linear, clipped };
}

/**
 * Exposure of b against a in EV from block means that neither frame clips; a few pixels of shift hardly matter.
 * @returns null where too few blocks are usable in both
 */
export function measureRelativeExposure(a: Thumbprint, b: Thumbprint): number | null {
  if (a.width !== b.width || a.height !== b.height) return null;
  const ratios: number[] = [];
  const weights: number[] = [];
  const usable = (t: Thumbprint, i: number) => t.clipped[i] < 0.002 && t.linear[i] > 0.004 && t.linear[i] < 0.8;
  for (let i = 0; i < a.linear.length; i++) {
    if (!usable(a, i) || !usable(b, i)) continue;
    ratios.push(Math.log2(b.linear[i] / a.linear[i]));
    weights.push(Math.sqrt(Math.min(a.linear[i], b.linear[i])));
  }
  return ratios.length < Math.max(12, a.linear.length * 0.01) ? null : weightedMedian(ratios, weights);
}
