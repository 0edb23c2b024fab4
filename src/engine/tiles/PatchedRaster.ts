import type { RasterFile, RasterSpec, Samples } from "./RasterStore";

/** A part of a raster in another version, with the same display levels; at a place that every level hits exactly. */
export interface RasterPatch {
  x: number;
  y: number;
  file: RasterFile;
}

/** A raster of which parts are replaced, the later ones over the earlier. Nothing of the raster beneath is copied. */
export class PatchedRaster implements RasterFile {
  readonly spec: RasterSpec;

  constructor(
    private readonly base: RasterFile,
    private readonly patches: RasterPatch[],
  ) {
    this.spec = base.spec;
  }

  read(level: number, channel: number, x: number, y: number, width: number, height: number, out: Samples): void {
    this.base.read(level, channel, x, y, width, height, out);
    for (const patch of this.patches) {
      const s = 2 ** level;
      const [left, top] = [patch.x / s, patch.y / s];
      const { width: w, height: h } = { width: Math.ceil(patch.file.spec.width / s), height: Math.ceil(patch.file.spec.height / s) };
      const [x0, y0] = [Math.max(x, left), Math.max(y, top)];
      const [x1, y1] = [Math.min(x + width, left + w), Math.min(y + height, top + h)];
      if (x1 <= x0 || y1 <= y0) continue;
      const part = out.slice(0, (x1 - x0) * (y1 - y0));
      patch.file.read(level, channel, x0 - left, y0 - top, x1 - x0, y1 - y0, part);
      for (let row = y0; row < y1; row++) out.set(part.subarray((row - y0) * (x1 - x0), (row - y0 + 1) * (x1 - x0)), (row - y) * width + x0 - x);
    }
  }

  write(): void {
    throw new Error("A patched raster is not written.");
  }

  commit(): Promise<void> {
    return Promise.reject(new Error("A patched raster is not kept."));
  }
}
