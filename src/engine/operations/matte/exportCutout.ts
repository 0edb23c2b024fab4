import { SPACES, type ExportSpace } from "../../../core/color/outputSpaces";
import { REC2020, rgbToRgb } from "../../../core/color/primaries";
import { encodeSrgb } from "../../../core/color/srgbCurve";
import { levelOfSide, sizeAtLevel, widen, type Rectangle } from "../../../core/geometry/rectangle";
import { Refusal } from "../../../core/refusal";
import { concatBytes } from "../../../formats/bytes";
import { writeProfile } from "../../../formats/icc/writeProfile";
import { writeOra } from "../../../formats/ora/writeOra";
import { PngWriter } from "../../../formats/png/PngWriter";
import { TiffWriter } from "../../../formats/tiff/TiffWriter";
import type { EngineContext } from "../../EngineContext";
import { portion, type Task } from "../../task";
import type { Cutter } from "./Cutter";
import { eachInFront, type FreedMatte } from "./LevelMatte";

/** Files that a cut-out is kept in for other pictures: all the colour there is, or what other programs take for sRGB. */
export type CutoutFormat = "tiff16" | "ora";
const SPACE_OF: Record<CutoutFormat, ExportSpace> = { tiff16: "rec2020", ora: "srgb" };

export interface CutoutFile {
  parts: Uint8Array[];
  width: number;
  height: number;
  /** share of the samples that show and lie outside of the space or range, clipped, 0..1 */
  clippedShare: number;
}

const ROWS = 128;
/** Room around what shows, px, so that its edge can be resampled. */
const MARGIN = 2;
/** Longest side of a small picture in the file. @see OpenRaster 0.0.6, Thumbnails; recalled from memory */
const SMALL = 256;
/**
 * Writes something that was cut out as a picture with alpha that its colours are not multiplied by, as large as it is itself: as it was cut, before it is moved, masked or lit.
 * @throws Refusal where nothing can be told apart, or shows
 */
export async function exportCutout(ctx: EngineContext, cutter: Cutter, name: string, format: CutoutFormat, task: Task): Promise<CutoutFile> {
  const matte = await cutter.prepare(0, portion(task, 0, 0.7));
  if (matte.rect.width < 1 || matte.rect.height < 1) throw new Refusal("unclear", "matte.noSubject");
  const { width, height } = cutter.picture;
  const rect = widen(matte.rect, MARGIN, { width, height });
  const space = SPACES[SPACE_OF[format]];
  const profile = writeProfile(space.name, space.primaries, "srgb");
  const shown = { width: rect.width, height: rect.height, metadata: [], profile };
  const writer =
    format === "tiff16"
      ? new TiffWriter({ ...shown, bits: 16, channels: 4, pack: (bytes) => ctx.pool.run("zlib", { bytes }) })
      : new PngWriter({ ...shown, hasAlpha: true, pack: (bytes, last) => ctx.pool.run("deflate", { bytes, last }) });
  const matrix = rgbToRgb(REC2020, space.primaries);
  let [clipped, samples] = [0, 0];
  for (let y = 0; y < rect.height; y += ROWS) {
    await task.step(0.7 + (0.25 * y) / rect.height, 1, "task.writing");
    const strip = { ...rect, y: rect.y + y, height: Math.min(ROWS, rect.height - y) };
    const made = rgbaOf(cutter, matte, 0, strip, matrix, 65_535);
    writer.writeRows(Uint16Array.from(made.rgba));
    clipped += made.clipped;
    samples += made.samples;
    await writer.settle(4 * ctx.pool.size);
  }
  await writer.settle(0);
  const parts = writer.finish();
  const told = { width: rect.width, height: rect.height, clippedShare: samples ? clipped / samples : 0 };
  if (format === "tiff16") return { parts, ...told };
  const thumbnail = await small(cutter, rect, matrix, portion(task, 0.95, 1));
  return { parts: writeOra({ width: rect.width, height: rect.height, name, picture: concatBytes(parts), thumbnail }), ...told };
}

/** The cut-out at a coarse level as a PNG of 8 bit. */
async function small(cutter: Cutter, rect: Rectangle, matrix: readonly number[], task: Task): Promise<Uint8Array> {
  const { levels, width, height } = cutter.picture;
  // a picture of few levels may be larger than asked for at its coarsest: it is thinned
  const level = Math.min(levels - 1, levelOfSide(rect, SMALL));
  const matte = await cutter.prepare(level, task);
  const bounds = sizeAtLevel(width, height, level);
  const own = widen(matte.rect, 0, bounds);
  const step = Math.ceil(Math.max(own.width, own.height) / SMALL);
  const size = { width: Math.ceil(own.width / step), height: Math.ceil(own.height / step) };
  const { rgba } = rgbaOf(cutter, matte, level, own, matrix, 255);
  const thinned = new Uint8Array(4 * size.width * size.height);
  for (let i = 0; i < thinned.length; i++) {
    const [k, c] = [i >> 2, i & 3];
    thinned[i] = rgba[4 * (Math.floor(k / size.width) * step * own.width + (k % size.width) * step) + c];
  }
  const writer = new PngWriter({ ...size, bits: 8, hasAlpha: true, metadata: [], profile: null });
  writer.writeRows(thinned);
  return concatBytes(writer.finish());
}

/** Codes of a rectangle of a level, colours and alpha up to `top`; black where nothing shows. */
function rgbaOf(cutter: Cutter, matte: FreedMatte, level: number, rect: Rectangle, m: readonly number[], top: number) {
  const own = cutter.picture.read(level, rect);
  const rgba = new Float32Array(4 * rect.width * rect.height);
  let [clipped, samples] = [0, 0];
  eachInFront(matte, rect, (i, alpha, k) => {
    if (alpha === 0) return;
    const [r, g, b] = [0, 1, 2].map((c) => (k < 0 ? own[c][i] : matte.front[3 * k + c]));
    for (let c = 0; c < 3; c++) {
      const v = m[3 * c] * r + m[3 * c + 1] * g + m[3 * c + 2] * b;
      if (v < -1e-5 || v > 1 + 1e-5) clipped++;
      rgba[4 * i + c] = Math.round(top * encodeSrgb(Math.min(1, Math.max(0, v))));
    }
    samples += 3;
    rgba[4 * i + 3] = Math.round(top * alpha);
  });
  return { rgba, clipped, samples };
}
