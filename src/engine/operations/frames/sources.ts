import { readColor, readPicture, type Picture } from "../../../formats/readPicture";
import type { InputColor } from "../../../formats/icc/readProfile";
import type { EngineContext } from "../../EngineContext";
import { allocateSamples, type RasterFile } from "../../tiles/RasterStore";
import { buildLevels, levelCount } from "./levels";

const SOURCE_VERSION = 2;

export function sourceKey(sourceId: string): string {
  return `source-${SOURCE_VERSION}-${sourceId}`;
}

/** The decoded source as a planar raster of its own depth, with display levels; decoded once, kept in the store. */
export async function openSource(ctx: EngineContext, sourceId: string): Promise<RasterFile> {
  const key = sourceKey(sourceId);
  return ctx.cache.makeOnce(
    key,
    async () => (await ctx.rasters.open(key)) ?? storePicture(ctx, sourceId, await readPicture(await ctx.loadSource(sourceId), ctx.codecs)),
  );
}

/** Writes a decoded picture into the store. */
export async function storePicture(ctx: EngineContext, sourceId: string, picture: Picture): Promise<RasterFile> {
  const key = sourceKey(sourceId);
  const { width, height, bits, data } = picture.raster;
  const file = await ctx.rasters.create(key, {
    width,
    height,
    channels: 3,
    type: bits === 8 ? "u8" : bits === 16 ? "u16" : "f32",
    levels: levelCount(width, height),
  });
  const rowsAtOnce = 256;
  for (let channel = 0; channel < 3; channel++) {
    for (let y = 0; y < height; y += rowsAtOnce) {
      const rows = Math.min(rowsAtOnce, height - y);
      const plane = allocateSamples(file.spec.type, rows * width);
      for (let i = 0, p = y * width * 3 + channel; i < plane.length; i++, p += 3) plane[i] = data[p];
      file.write(0, channel, y, plane);
    }
  }
  buildLevels(ctx.kernels, file);
  await file.commit();
  ctx.colors.set(sourceId, picture.color);
  return file;
}

export async function colorOf(ctx: EngineContext, sourceId: string): Promise<InputColor> {
  const known = ctx.colors.get(sourceId);
  if (known) return known;
  const color = readColor(await ctx.loadSource(sourceId));
  ctx.colors.set(sourceId, color);
  return color;
}
