import { hasLens, toFrame, type Lens, type Size } from "../../../core/geometry/lens";
import { invert, multiply, type Matrix3 } from "../../../core/geometry/matrix3";
import type { LateralColour } from "../../../core/measure/lateralColour";
import type { EngineContext } from "../../EngineContext";
import { contentKey } from "../../graph/keys";
import type { Task } from "../../task";
import type { RasterFile } from "../../tiles/RasterStore";
import { buildLevels, levelCount } from "./levels";
import { openSource, SOURCE_VERSION } from "./sources";

const PLACE_VERSION = 5;
/** Part of the key of everything that is made of placed frames. */
export const FRAMES_VERSION = [SOURCE_VERSION, PLACE_VERSION];
const ROWS = 192;

export interface Placement {
  /** see pictureIdOf */
  pictureId: string;
  /** undistorted moving → reference */
  matrix: Matrix3;
  lens: Lens | null;
  /** by how much red and blue are larger, which is undone */
  lateral?: LateralColour | null;
  /** size of the reference frame */
  width: number;
  height: number;
}

function isIdentity(m: Matrix3): boolean {
  return m.every((v, i) => v === (i % 4 === 0 ? 1 : 0));
}

/** The frame resampled onto the reference's pixels, encoded as the source is; the reference itself is its own source. */
export async function openPlaced(ctx: EngineContext, placement: Placement, task: Task): Promise<RasterFile> {
  const source = await openSource(ctx, placement.pictureId);
  const { width, height, matrix, lateral } = placement;
  const lens = hasLens(placement.lens) ? placement.lens : null;
  if (isIdentity(matrix) && !lens && !lateral && source.spec.width === width && source.spec.height === height) return source;
  const key = contentKey("placed", PLACE_VERSION, [SOURCE_VERSION, placement.pictureId, matrix, lens, width, height, ...(lateral ? [lateral] : [])]);
  return ctx.cache.makeOnce(key, async () => {
    const known = await ctx.rasters.open(key);
    if (known) return known;
    const file = await ctx.rasters.create(key, {
      width,
      height,
      channels: 3,
      type: source.spec.type === "f32" ? "f32" : "u16",
      levels: levelCount(width, height),
    });
    const outputToSource = invert(matrix);
    for (let y0 = 0; y0 < height; y0 += ROWS) {
      await task.step(y0, height, "task.placing");
      warpStrip(ctx, source, channelMaps(outputToSource, lens, lateral ?? null, source.spec), file, y0, Math.min(height, y0 + ROWS));
    }
    buildLevels(ctx.kernels, file);
    await file.commit();
    return file;
  });
}

/** Nine numbers of the map and five of the lens, as the warp kernels read them. */
export function warpParameters(outputToSource: Matrix3, lens: Lens | null, size: { width: number; height: number }): number[] {
  const { width, height } = size;
  return [...outputToSource, ...(lens ? [lens.k1, lens.k2, (width - 1) / 2, (height - 1) / 2, 4 / (width * width + height * height)] : [0, 0, 0, 0, 0])];
}

/** How one colour of a frame is placed. */
interface ChannelMap {
  outputToSource: Matrix3;
  lens: Lens | null;
}

/** The map of each colour; a colour that is larger by a share is sampled by that share farther from the middle, after the lens. */
export function channelMaps(outputToSource: Matrix3, lens: Lens | null, lateral: LateralColour | null, { width, height }: Size): ChannelMap[] {
  return [lateral?.red ?? 0, 0, lateral?.blue ?? 0].map((larger) => {
    const s = 1 + larger;
    const [x, y] = [(width - 1) / 2, (height - 1) / 2];
    const scaled: Matrix3 = [s, 0, (1 - s) * x, 0, s, (1 - s) * y, 0, 0, 1];
    // the lens bends by the radius before
    return larger === 0
      ? { outputToSource, lens }
      : { outputToSource: multiply(scaled, outputToSource), lens: lens && { k1: lens.k1 / s ** 2, k2: lens.k2 / s ** 4 } };
  });
}

function warpStrip(ctx: EngineContext, source: RasterFile, maps: ChannelMap[], file: RasterFile, y0: number, y1: number): void {
  const { kernels } = ctx;
  const { width } = file.spec;
  const sw = source.spec.width;
  // a lens bends rows, so the columns between the corners are looked at too
  const ys: number[] = [];
  for (let k = 0; k <= 16; k++) {
    const x = ((width - 1) * k) / 16;
    for (const { outputToSource, lens } of maps) {
      ys.push(toFrame(outputToSource, lens, source.spec, x, y0)[1], toFrame(outputToSource, lens, source.spec, x, y1 - 1)[1]);
    }
  }
  const slack = maps[1].lens ? 8 : 0;
  const top = Math.max(0, Math.min(source.spec.height - 4, Math.floor(Math.min(...ys)) - 3 - slack));
  const bottom = Math.min(source.spec.height, Math.max(top + 4, Math.ceil(Math.max(...ys)) + 4 + slack));
  const rows = bottom - top;
  const stripPx = width * (y1 - y0);
  kernels.withScope((scope) => {
    const parameters = maps.map(({ outputToSource, lens }) => scope.doubles(warpParameters(outputToSource, lens, source.spec)));
    if (source.spec.type === "f32") {
      const plane = scope.floats(sw * rows + 16);
      const out = scope.floats(stripPx + 16);
      for (let c = 0; c < 3; c++) {
        source.read(0, c, 0, top, sw, rows, kernels.f32(plane, sw * rows));
        kernels.run("warpFloatRows", [plane, sw, rows, 0, top, parameters[c], out, 0, width, y0], y0, y1, 16);
        file.write(0, c, y0, kernels.f32(out, stripPx));
      }
      return;
    }
    const window = scope.bytes(sw * rows * 8 + 192);
    fillWindow(ctx, source, top, rows, window);
    const out = scope.bytes(stripPx * 6 + 64);
    const apart = maps.some((map) => map.outputToSource !== maps[1].outputToSource);
    for (let c = 0; c < 3; c++) {
      // the kernel places all three at once
      if (c === 0 || apart) kernels.run("warpRows", [window, sw, rows, 0, top, parameters[c], out, stripPx, 0, width, y0], y0, y1, 16);
      file.write(0, c, y0, kernels.u16(out + c * stripPx * 2, stripPx));
    }
  });
}

/** Copies whole rows of a planar source into RGBX, 16 bit. */
function fillWindow({ kernels }: EngineContext, source: RasterFile, top: number, rows: number, at: number): void {
  const { width, type } = source.spec;
  const n = width * rows;
  const bytes = type === "u8";
  kernels.withScope((scope) => {
    const planes = [0, 1, 2].map((c) => {
      const plane = scope.bytes(n * (bytes ? 1 : 2) + 64);
      source.read(0, c, 0, top, width, rows, bytes ? kernels.u8(plane, n) : kernels.u16(plane, n));
      return plane;
    });
    kernels.run(bytes ? "rgbxOfBytes" : "rgbxOfSamples", [...planes, at], 0, Math.ceil(n / 16) * 16, 65536);
  });
}
