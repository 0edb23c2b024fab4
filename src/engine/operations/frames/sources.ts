import { readColor, readPicture, type Picture } from "../../../formats/readPicture";
import type { InputColor } from "../../../formats/icc/readProfile";
import type { EngineContext } from "../../EngineContext";
import { planesOf, type FrameFile } from "../../pool/readFrameFile";
import type { RasterFile } from "../../tiles/RasterStore";
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
async function storePicture(ctx: EngineContext, sourceId: string, { raster, color }: Picture): Promise<RasterFile> {
  const { width, height, bits, data } = raster;
  const type = bits === 8 ? "u8" : bits === 16 ? "u16" : "f32";
  ctx.colors.set(sourceId, color);
  return storePlanes(ctx, sourceId, { width, height, type, planes: planesOf(data, type, width * height) });
}

/** Writes decoded planes into the store, with display levels. */
export async function storePlanes(
  ctx: EngineContext,
  sourceId: string,
  { width, height, type, planes }: Pick<FrameFile, "width" | "height" | "type" | "planes">,
): Promise<RasterFile> {
  const file = await ctx.rasters.create(sourceKey(sourceId), { width, height, channels: 3, type, levels: levelCount(width, height) });
  planes.forEach((plane, channel) => file.write(0, channel, 0, plane));
  buildLevels(ctx.kernels, file);
  await file.commit();
  return file;
}

export async function colorOf(ctx: EngineContext, sourceId: string): Promise<InputColor> {
  const known = ctx.colors.get(sourceId);
  if (known) return known;
  const color = readColor(await ctx.loadSource(sourceId));
  ctx.colors.set(sourceId, color);
  return color;
}
