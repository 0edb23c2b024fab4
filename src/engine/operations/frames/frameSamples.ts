import { REC2020, REC709, rgbToRgb } from "../../../core/color/primaries";
import type { InputColor } from "../../../formats/icc/readProfile";
import { cutInto } from "../../../core/raster/planeParts";
import { sizeAtLevel, type Rectangle } from "../../../core/geometry/rectangle";
import type { Scope } from "../../../kernels/Kernels";
import { type RasterFile } from "../../tiles/RasterStore";

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

/** The part of planes that lies in a rectangle; the same planes where that is all. @param from the rectangle that they hold */
export function cutPlanes(scope: Scope, planes: Planes, from: Rectangle, rect: Rectangle): Planes {
  if (from.width === rect.width && from.height === rect.height) return planes;
  const { kernels } = scope;
  const out = allocatePlanes(scope, rect.width * rect.height);
  each(out).forEach((at, c) => cutInto(kernels.f32(at, rect.width * rect.height), kernels.f32(each(planes)[c], from.width * from.height), from, rect));
  return out;
}

/** Floats in a row that are not numbers are shown as what is beside them up to so many, black where there are more. */
const SHOWN_OVER = 4;

/** Reads a rectangle of one channel through a table of 65536 values; 8-bit files use every 257th. @param reach over how many samples that are no numbers others are continued */
export function readThrough(
  scope: Scope,
  file: RasterFile,
  level: number,
  channel: number,
  rect: Rectangle,
  table: Float32Array,
  out: number,
  reach = SHOWN_OVER,
): void {
  const { kernels } = scope;
  const n = rect.width * rect.height;
  if (file.spec.type === "f32") {
    // float sources hold linear light already; what is not a number has no weight anywhere, and must not spoil what is beside it
    const { width } = sizeAtLevel(file.spec.width, file.spec.height, level);
    const x0 = Math.max(0, rect.x - reach - 1);
    const wide = Math.min(width, rect.x + rect.width + reach + 1) - x0;
    // looked at so far to either side, the same px is filled alike whatever rectangle it is in
    kernels.withScope((inner) => {
      const rows = inner.floats(wide * rect.height + 16);
      const read = kernels.f32(rows, wide * rect.height);
      file.read(level, channel, x0, rect.y, wide, rect.height, read);
      kernels.run("fillRows", [rows, wide, reach], 0, rect.height, 64);
      const to = kernels.f32(out, n);
      for (let y = 0; y < rect.height; y++) to.set(read.subarray(y * wide + rect.x - x0, y * wide + rect.x - x0 + rect.width), y * rect.width);
    });
    return;
  }
  const bytes = file.spec.type === "u8";
  const samples = scope.bytes(n * 2 + 64);
  file.read(level, channel, rect.x, rect.y, rect.width, rect.height, bytes ? kernels.u8(samples, n) : kernels.u16(samples, n));
  const at = scope.floats(65536);
  const entries = kernels.f32(at, 65536);
  if (bytes) for (let i = 0; i < 256; i++) entries[i] = table[i * 257];
  else entries.set(table);
  kernels.run(bytes ? "lookUpBytes" : "lookUpSamples", [samples, at, out], 0, n, 65536);
}

type Curve = InputColor["curves"][number];
const tables = new WeakMap<Curve, Float32Array>();

/** Linear value for each of the 65536 codes; frames and channels of one curve share it. */
function tableOf(curve: Curve): Float32Array {
  let table = tables.get(curve);
  if (!table) {
    table = new Float32Array(65536);
    for (let code = 0; code < 65536; code++) table[code] = curve(code / 65535);
    tables.set(curve, table);
  }
  return table;
}

/** The tables of the three channels. */
export function tablesOf(color: InputColor): Float32Array[] {
  return color.curves.map(tableOf);
}

/** Encoded samples of a frame → linear RGB of the frame's own primaries. */
export function readLinear(scope: Scope, file: RasterFile, color: InputColor, level: number, rect: Rectangle, out: Planes, reach?: number): void {
  const curves = tablesOf(color);
  each(out).forEach((plane, c) => readThrough(scope, file, level, c, rect, curves[c], plane, reach));
}

/** The same in working RGB. */
export function readWorking(scope: Scope, file: RasterFile, color: InputColor, level: number, rect: Rectangle, out: Planes, reach?: number): void {
  readLinear(scope, file, color, level, rect, out, reach);
  scope.kernels.run("applyMatrix", [...each(out), scope.matrix(color.toWorking)], 0, out.length, 65536);
}

/** Rows of a frame in sRGB encoding, 0..1, for sums over wide neighbourhoods; sources in another space are converted first. */
export function readEncoded(scope: Scope, file: RasterFile, color: InputColor, y: number, rows: number, width: number, out: Planes): void {
  const { kernels } = scope;
  const rect = { x: 0, y, width, height: rows };
  const n = width * rows;
  if (color.name !== "sRGB") {
    readWorking(scope, file, color, 0, rect, out, width);
    kernels.run("applyMatrix", [...each(out), scope.matrix(WORKING_TO_REC709)], 0, out.length, 65536);
    // codes of 16 bit, so that every frame has the same steps
    for (const plane of each(out)) kernels.run("encodeSamples", [plane, plane, 65535], 0, out.length, 65536);
    kernels.run("applyMatrix", [...each(out), scope.matrix([1, 0, 0, 0, 1, 0, 0, 0, 1].map((v) => v / 65535))], 0, out.length, 65536);
    return;
  }
  const bytes = file.spec.type === "u8";
  const samples = scope.bytes(n * 2 + 64);
  each(out).forEach((plane, c) => {
    file.read(0, c, 0, y, width, rows, bytes ? kernels.u8(samples, n) : kernels.u16(samples, n));
    kernels.run(bytes ? "unitBytes" : "unitSamples", [samples, plane], 0, n, 65536);
  });
}

export const WORKING_TO_REC709 = rgbToRgb(REC2020, REC709);
export const REC709_TO_WORKING = rgbToRgb(REC709, REC2020);
