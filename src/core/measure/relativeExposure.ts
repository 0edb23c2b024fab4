import { decodeSrgb } from "../color/srgbCurve";
import { median } from "../numeric/statistics";
import { mapFloats } from "../numeric/mapFloats";

/** A small linear luminance picture of a frame, block means; for comparing exposures without registration. */
export interface Thumbprint {
  width: number;
  height: number;
  /** linear 0..1 */
  linear: Float32Array;
}

const table = Float32Array.from({ length: 4097 }, (_, i) => decodeSrgb(i / 4096));

/** Linear value of an encoded grey 0..65535. */
export function linearOfGrey(v: number): number {
  return table[Math.min(4096, Math.max(0, Math.round(v / 16)))];
}

/** A thumbprint from green samples at a coarse display level. @param green encoded 0..top */
export function thumbprintOfGreen(green: ArrayLike<number>, width: number, height: number, top: number): Thumbprint {
  return { width, height, linear: mapFloats(green, (v) => linearOfGrey((v / top) * 65535)) };
}

/** @param side blocks along the longer side */
export function thumbprint(grey: { width: number; height: number; data: ArrayLike<number> }, side = 48): Thumbprint {
  const block = Math.max(1, Math.floor(Math.max(grey.width, grey.height) / side));
  const width = Math.max(1, Math.floor(grey.width / block));
  const height = Math.max(1, Math.floor(grey.height / block));
  const linear = new Float32Array(width * height);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      let sum = 0;
      for (let v = 0; v < block; v++) {
        for (let u = 0; u < block; u++) {
          sum += linearOfGrey(grey.data[(y * block + v) * grey.width + x * block + u]);
        }
      }
      linear[y * width + x] = sum / (block * block);
    }
  }
  return { width, height, linear };
}

/** Linear ranges in which quantiles are compared, the safer one first. Common practice, no source. */
const RANGES = [
  { darkest: 0.004, brightest: 0.5 },
  { darkest: 0.0015, brightest: 0.85 },
];

/**
 * Exposure of b against a in EV. The same share of the picture lies below a given light in both frames, so their quantiles are
 * compared, not their pixels: a shift between the frames hardly matters, and clipping only takes away quantiles.
 * @returns null where too few quantiles are usable in both
 */
export function measureRelativeExposure(a: Thumbprint, b: Thumbprint): number | null {
  const p = Float32Array.from(a.linear).sort();
  const q = Float32Array.from(b.linear).sort();
  const steps = 400;
  for (const { darkest, brightest } of RANGES) {
    const ratios: number[] = [];
    for (let k = 2; k < steps - 2; k++) {
      const [x, y] = [p[Math.round((k / steps) * (p.length - 1))], q[Math.round((k / steps) * (q.length - 1))]];
      if (x > darkest && y > darkest && x < brightest && y < brightest) ratios.push(Math.log2(y / x));
    }
    if (ratios.length >= 12) return median(ratios);
  }
  return null;
}
