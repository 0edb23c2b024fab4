/**
 * A decoded source: interleaved RGB at its own depth, oriented upright. Length = width × height × 3.
 * 32 bit is linear light as float, 1 for diffuse white, possibly above it.
 */
export interface SourceRaster {
  width: number;
  height: number;
  bits: 8 | 16 | 32;
  data: Uint8Array | Uint16Array | Float32Array;
}

/** Whether colours of a file are as they are, or multiplied by its alpha. */
export const ALPHA_KINDS = ["straight", "multiplied"] as const;
export type AlphaKind = (typeof ALPHA_KINDS)[number];

/** One plane of float samples, row-major. Length = width × height. */
export interface Plane {
  width: number;
  height: number;
  data: Float32Array;
}
