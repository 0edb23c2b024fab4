/** A decoded source: interleaved RGB at its own depth, oriented upright. Length = width × height × 3. */
export interface SourceRaster {
  width: number;
  height: number;
  bits: 8 | 16;
  data: Uint8Array | Uint16Array;
}

/** One plane of float samples, row-major. Length = width × height. */
export interface Plane {
  width: number;
  height: number;
  data: Float32Array;
}
