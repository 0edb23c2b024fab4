import { REC2020, REC709, rgbToRgb } from "../../core/color/primaries";
import type { InputColor } from "../../formats/icc/readProfile";
import type { Kernels, Scope } from "../../kernels/Kernels";
import type { RasterFile } from "../tiles/RasterStore";

/** Three working planes in kernel memory. */
export interface Planes {
  r: number;
  g: number;
  b: number;
  /** samples a plane, a multiple of 8 */
  length: number;
}

export function allocatePlanes(scope: Scope, samples: number): Planes {
  const length = Math.ceil(samples / 8) * 8;
  return { r: scope.floats(length + 16), g: scope.floats(length + 16), b: scope.floats(length + 16), length };
}

export const each = (p: Planes): [number, number, number] => [p.r, p.g, p.b];

/** Reads a rectangle of one channel as u16 samples into kernel memory. */
export function readSamples(kernels: Kernels, file: RasterFile, level: number, channel: number, x: number, y: number, w: number, h: number, at: number): void {
  const target = kernels.u16(at, w * h);
  if (file.spec.type === "u16") {
    file.read(level, channel, x, y, w, h, target);
    return;
  }
  const bytes = new Uint8Array(w * h);
  file.read(level, channel, x, y, w, h, bytes);
  for (let i = 0; i < bytes.length; i++) target[i] = bytes[i] * 257;
}

const tables = new WeakMap<InputColor, Float32Array[]>();

/** Linear value for each of the 65536 codes, per channel; shared where the channels' curves are one. */
function tablesOf(color: InputColor): Float32Array[] {
  let found = tables.get(color);
  if (!found) {
    const first = Float32Array.from({ length: 65536 }, (_, i) => color.curves[0](i / 65535));
    found = color.curves.map((curve) => (curve === color.curves[0] ? first : Float32Array.from({ length: 65536 }, (_, i) => curve(i / 65535))));
    tables.set(color, found);
  }
  return found;
}

/** Encoded samples of a frame → linear RGB of the frame's own primaries. */
export function readLinear(
  scope: Scope,
  file: RasterFile,
  color: InputColor,
  level: number,
  rect: { x: number; y: number; width: number; height: number },
  out: Planes,
): void {
  const { kernels } = scope;
  const n = rect.width * rect.height;
  const samples = scope.bytes(n * 2 + 64);
  const table = scope.floats(65536);
  const curves = tablesOf(color);
  each(out).forEach((plane, c) => {
    if (c === 0 || curves[c] !== curves[c - 1]) kernels.f32(table, 65536).set(curves[c]);
    readSamples(kernels, file, level, c, rect.x, rect.y, rect.width, rect.height, samples);
    kernels.run("lookUpSamples", [samples, table, plane], 0, n, 65536);
  });
}

/** The same in working RGB. */
export function readWorking(
  scope: Scope,
  file: RasterFile,
  color: InputColor,
  level: number,
  rect: { x: number; y: number; width: number; height: number },
  out: Planes,
): void {
  readLinear(scope, file, color, level, rect, out);
  scope.kernels.run("applyMatrix", [...each(out), scope.matrix(color.toWorking)], 0, out.length, 65536);
}

export const WORKING_TO_REC709 = rgbToRgb(REC2020, REC709);
export const REC709_TO_WORKING = rgbToRgb(REC709, REC2020);
