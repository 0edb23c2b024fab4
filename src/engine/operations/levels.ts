import type { Kernels } from "../../kernels/Kernels";
import { allocateSamples, levelSize, type RasterFile } from "../tiles/RasterStore";

/** Number of display levels down to about 256 px. */
export function levelCount(width: number, height: number): number {
  return Math.max(1, Math.ceil(Math.log2(Math.max(width, height) / 256)) + 1);
}

const ROWS = 128;

/** Fills levels 1 and up of a raster with means of 2×2; index rasters (u8 with `pick`) take the upper left sample instead. */
export function buildLevels(kernels: Kernels, file: RasterFile, pick = false): void {
  const { spec } = file;
  for (let level = 1; level < spec.levels; level++) {
    const from = levelSize(spec, level - 1);
    const to = levelSize(spec, level);
    for (let channel = 0; channel < spec.channels; channel++) {
      for (let y = 0; y < to.height; y += ROWS) {
        const rows = Math.min(ROWS, to.height - y);
        const rowsIn = Math.min(rows * 2, from.height - y * 2);
        const input = allocateSamples(spec.type, from.width * rowsIn);
        file.read(level - 1, channel, 0, y * 2, from.width, rowsIn, input);
        const output = allocateSamples(spec.type, to.width * rows);
        if (pick) pickSamples(input, from.width, output, to.width, rows);
        else if (spec.type === "f32") halveFloats(kernels, input as Float32Array, from.width, rowsIn, output as Float32Array, to.width, rows);
        else halveIntegers(input, from.width, rowsIn, output, to.width, rows);
        file.write(level, channel, y, output);
      }
    }
  }
}

function pickSamples(input: ArrayLike<number>, w: number, out: Uint8Array | Uint16Array | Float32Array, ow: number, rows: number): void {
  for (let y = 0; y < rows; y++) for (let x = 0; x < ow; x++) out[y * ow + x] = input[2 * y * w + 2 * x];
}

function halveIntegers(input: ArrayLike<number>, w: number, h: number, out: Uint8Array | Uint16Array | Float32Array, ow: number, rows: number): void {
  for (let y = 0; y < rows; y++) {
    const upper = 2 * y * w;
    const lower = Math.min(2 * y + 1, h - 1) * w;
    for (let x = 0; x < ow; x++) {
      const a = 2 * x;
      const b = Math.min(a + 1, w - 1);
      out[y * ow + x] = (input[upper + a] + input[upper + b] + input[lower + a] + input[lower + b] + 2) >> 2;
    }
  }
}

function halveFloats(kernels: Kernels, input: Float32Array, w: number, h: number, out: Float32Array, ow: number, rows: number): void {
  kernels.withScope((scope) => {
    const src = scope.floats(w * h + 16);
    const dst = scope.floats(ow * rows + 16);
    kernels.f32(src, w * h).set(input);
    kernels.run("halveRows", [src, w, h, dst, ow], 0, rows);
    out.set(kernels.f32(dst, ow * rows));
  });
}
