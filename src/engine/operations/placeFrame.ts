import { invert, project, type Matrix3 } from "../../core/geometry/matrix3";
import { makeOnce, type EngineContext } from "../EngineContext";
import { contentKey } from "../graph/keys";
import type { Task } from "../task";
import type { RasterFile } from "../tiles/RasterStore";
import { buildLevels, levelCount } from "./levels";
import { openSource } from "./sources";

const PLACE_VERSION = 1;
const ROWS = 192;

export interface Placement {
  sourceId: string;
  /** moving → reference */
  matrix: Matrix3;
  /** size of the reference frame */
  width: number;
  height: number;
}

function isIdentity(m: Matrix3): boolean {
  return m.every((v, i) => v === (i % 4 === 0 ? 1 : 0));
}

/** The frame resampled onto the reference's pixels, encoded as the source is; the reference itself is its own source. */
export async function openPlaced(ctx: EngineContext, placement: Placement, task: Task): Promise<RasterFile> {
  const source = await openSource(ctx, placement.sourceId);
  const { width, height, matrix } = placement;
  if (isIdentity(matrix) && source.spec.width === width && source.spec.height === height) return source;
  const key = await contentKey("placed", PLACE_VERSION, [placement.sourceId, matrix, width, height]);
  return makeOnce(ctx, key, async () => {
    const known = ctx.files.get(key) ?? (await ctx.store.open(key));
    if (known) {
      ctx.files.set(key, known);
      return known;
    }
    const file = await ctx.store.create(key, { width, height, channels: 3, type: "u16", levels: levelCount(width, height) });
    const outputToSource = invert(matrix);
    for (let y0 = 0; y0 < height; y0 += ROWS) {
      await task.step(y0, height, "Placing frames");
      warpStrip(ctx, source, outputToSource, file, y0, Math.min(height, y0 + ROWS));
    }
    buildLevels(ctx.kernels, file);
    await file.commit();
    ctx.files.set(key, file);
    return file;
  });
}

function warpStrip(ctx: EngineContext, source: RasterFile, outputToSource: Matrix3, file: RasterFile, y0: number, y1: number): void {
  const { kernels } = ctx;
  const { width } = file.spec;
  const sw = source.spec.width;
  const corners = [
    [0, y0],
    [width - 1, y0],
    [0, y1 - 1],
    [width - 1, y1 - 1],
  ].map(([x, y]) => project(outputToSource, x, y)[1]);
  const top = Math.max(0, Math.min(source.spec.height - 4, Math.floor(Math.min(...corners)) - 3));
  const bottom = Math.min(source.spec.height, Math.max(top + 4, Math.ceil(Math.max(...corners)) + 4));
  const rows = bottom - top;
  kernels.withScope((scope) => {
    const window = scope.bytes(sw * rows * 8 + 64);
    fillWindow(ctx, source, top, rows, window);
    const stripPx = width * (y1 - y0);
    const out = scope.bytes(stripPx * 6 + 64);
    const matrix = scope.doubles(outputToSource);
    kernels.run("warpRows", [window, sw, rows, 0, top, matrix, out, stripPx, 0, width, y0], y0, y1, 16);
    for (let c = 0; c < 3; c++) file.write(0, c, y0, kernels.u16(out + c * stripPx * 2, stripPx));
  });
}

/** Copies whole rows of a planar source into RGBX, 16 bit. */
function fillWindow(ctx: EngineContext, source: RasterFile, top: number, rows: number, at: number): void {
  const { width, type } = source.spec;
  const n = width * rows;
  const target = ctx.kernels.u16(at, n * 4);
  const plane = type === "u8" ? new Uint8Array(n) : new Uint16Array(n);
  const scale = type === "u8" ? 257 : 1;
  for (let c = 0; c < 3; c++) {
    source.read(0, c, 0, top, width, rows, plane);
    for (let i = 0, p = c; i < n; i++, p += 4) target[p] = plane[i] * scale;
  }
}
