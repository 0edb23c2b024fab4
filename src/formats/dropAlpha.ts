import type { SourceRaster } from "../core/raster/raster";

/** RGB of RGBA samples. */
export function dropAlpha({ width, height, data }: { width: number; height: number; data: Uint8ClampedArray | Uint16Array }): SourceRaster {
  const bits = data instanceof Uint16Array ? 16 : 8;
  const out = bits === 16 ? new Uint16Array(width * height * 3) : new Uint8Array(width * height * 3);
  for (let i = 0, o = 0; o < out.length; i += 4) {
    out[o++] = data[i];
    out[o++] = data[i + 1];
    out[o++] = data[i + 2];
  }
  return { width, height, bits, data: out };
}
