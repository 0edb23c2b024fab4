import { sizeAtLevel } from "../../../core/geometry/rectangle";
import type { Kernels, Scope } from "../../../kernels/Kernels";
import { allocateSamples, type RasterFile, type Samples, type SampleType } from "../../tiles/RasterStore";

/** Number of display levels down to about 256 px. */
export function levelCount(width: number, height: number): number {
  return Math.max(1, Math.ceil(Math.log2(Math.max(width, height) / 256)) + 1);
}

/** Rows made at once, few, so that they stay near the processor. */
const ROWS = 32;

/** Makes rows of half the size from rows put into `input`. */
interface Halver {
  input: Samples;
  output: Samples;
  halve(rowsIn: number, rows: number): void;
}

/** Writes rows of a float raster at full size, and what they are at level 1. @param y0 even @param plane kernel address, with 16 samples behind it */
export function writeHalved(kernels: Kernels, file: RasterFile, channel: number, y0: number, rows: number, plane: number): void {
  const { spec } = file;
  file.write(0, channel, y0, kernels.f32(plane, spec.width * rows));
  if (spec.levels === 1) return;
  const half = { width: sizeAtLevel(spec.width, spec.height, 1).width, rows: Math.ceil(rows / 2) };
  kernels.withScope((scope) => {
    const at = scope.floats(half.width * half.rows + 16);
    kernels.run("halveRows", [plane, spec.width, rows, at, half.width], 0, half.rows);
    file.write(1, channel, y0 / 2, kernels.f32(at, half.width * half.rows));
  });
}

/** Fills the levels of a raster from `first` up with means of 2×2; index rasters (u8 with `pick`) take the upper left sample instead. */
export function buildLevels(kernels: Kernels, file: RasterFile, pick = false, first = 1): void {
  const { spec } = file;
  for (let level = first; level < spec.levels; level++) {
    const from = sizeAtLevel(spec.width, spec.height, level - 1);
    const to = sizeAtLevel(spec.width, spec.height, level);
    kernels.withScope((scope) => {
      const halver = halverOf(scope, spec.type, pick, from.width, to.width);
      for (let channel = 0; channel < spec.channels; channel++) {
        for (let y = 0; y < to.height; y += ROWS) {
          const rows = Math.min(ROWS, to.height - y);
          const rowsIn = Math.min(rows * 2, from.height - y * 2);
          file.read(level - 1, channel, 0, y * 2, from.width, rowsIn, halver.input);
          halver.halve(rowsIn, rows);
          file.write(level, channel, y, halver.output.subarray(0, to.width * rows));
        }
      }
    });
  }
}

function halverOf(scope: Scope, type: SampleType, pick: boolean, w: number, ow: number): Halver {
  const [read, made] = [w * ROWS * 2, ow * ROWS];
  if (type === "f32" && !pick) {
    const { kernels } = scope;
    const [src, dst] = [scope.floats(read + 16), scope.floats(made + 16)];
    return {
      input: kernels.f32(src, read),
      output: kernels.f32(dst, made),
      halve: (rowsIn, rows) => kernels.run("halveRows", [src, w, rowsIn, dst, ow], 0, rows),
    };
  }
  const { kernels } = scope;
  if (pick) {
    const [input, output] = [allocateSamples(type, read), allocateSamples(type, made)];
    return { input, output, halve: (_rowsIn, rows) => pickSamples(input, w, output, ow, rows) };
  }
  const [src, dst] = [scope.bytes(read * 2 + 64), scope.bytes(made * 2 + 64)];
  const view = type === "u8" ? kernels.u8.bind(kernels) : kernels.u16.bind(kernels);
  const name = type === "u8" ? "halveBytes" : "halveSamples";
  return { input: view(src, read), output: view(dst, made), halve: (rowsIn, rows) => kernels.run(name, [src, w, rowsIn, dst, ow], 0, rows, 16) };
}

function pickSamples(input: ArrayLike<number>, w: number, out: Samples, ow: number, rows: number): void {
  for (let y = 0; y < rows; y++) for (let x = 0; x < ow; x++) out[y * ow + x] = input[2 * y * w + 2 * x];
}

/**
 * Fills the levels of a picture whose colours show by alpha: means of 2×2 weighted by it, as light multiplied by alpha would be halved, so that what does not show gives no
 * colour. @param alpha with levels
 */
export function buildLevelsByAlpha(file: RasterFile, alpha: RasterFile): void {
  const { spec } = file;
  for (let level = 1; level < spec.levels; level++) {
    const from = sizeAtLevel(spec.width, spec.height, level - 1);
    const to = sizeAtLevel(spec.width, spec.height, level);
    const [weights, input] = [allocateSamples("u16", 2 * from.width), allocateSamples(spec.type, 2 * from.width)];
    for (let y = 0; y < to.height; y++) {
      const rows = Math.min(2, from.height - 2 * y);
      alpha.read(level - 1, 0, 0, 2 * y, from.width, rows, weights);
      for (let channel = 0; channel < spec.channels; channel++) {
        file.read(level - 1, channel, 0, 2 * y, from.width, rows, input);
        file.write(level, channel, y, halvedByWeight(input, weights, from.width, rows, to.width, allocateSamples(spec.type, to.width)));
      }
    }
  }
}

function halvedByWeight(v: Samples, weights: Samples, width: number, rows: number, half: number, out: Samples): Samples {
  const isWhole = !(v instanceof Float32Array);
  const lower = rows > 1 ? width : 0;
  for (let x = 0; x < half; x++) {
    const a = 2 * x;
    const b = Math.min(a + 1, width - 1);
    const [w0, w1, w2, w3] = [weights[a], weights[b], weights[lower + a], weights[lower + b]];
    const sum = w0 + w1 + w2 + w3;
    const mean = sum > 0 ? (w0 * v[a] + w1 * v[b] + w2 * v[lower + a] + w3 * v[lower + b]) / sum : (v[a] + v[b] + v[lower + a] + v[lower + b]) / 4;
    out[x] = isWhole ? Math.round(mean) : mean;
  }
  return out;
}
