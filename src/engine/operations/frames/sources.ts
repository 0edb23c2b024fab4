import { message } from "../../../messages/message";
import type { FrameRecord } from "../../../document/records/types";
import { pictureIdOf, sourceOfPicture } from "../../../document/sourceIds";
import { FormatError } from "../../../formats/formatError";
import { readColor } from "../../../formats/readPicture";
import type { InputColor } from "../../../formats/icc/readProfile";
import type { EngineContext } from "../../EngineContext";
import { deadlineOf } from "../../pool/deadline";
import type { DecodedFile } from "../../pool/readFrameFile";
import type { RasterFile } from "../../tiles/RasterStore";
import { buildLevels, buildLevelsByAlpha, levelCount } from "./levels";

/** Of what readers make of a file; rasters outlast the program that made them. */
export const SOURCE_VERSION = 4;

export function sourceKey(pictureId: string): string {
  return `source-${SOURCE_VERSION}-${pictureId}`;
}

const alphaKey = (pictureId: string): string => `alpha-${SOURCE_VERSION}-${pictureId}`;

/** The decoded source as a planar raster of its own depth, with display levels; decoded once, kept in the store. @param pictureId see pictureIdOf */
export async function openSource(ctx: EngineContext, pictureId: string): Promise<RasterFile> {
  const key = sourceKey(pictureId);
  return ctx.cache.makeOnce(key, async () => (await ctx.rasters.open(key)) ?? decodeAgain(ctx, pictureId));
}

/**
 * The source of a frame. A job file that states another size than its picture has would show other pixels in other places.
 * @throws FormatError where it does
 */
export async function openFrame(ctx: EngineContext, frame: Pick<FrameRecord, "sourceId" | "quarterTurns" | "width" | "height">): Promise<RasterFile> {
  const file = await openSource(ctx, pictureIdOf(frame));
  const { width, height } = file.spec;
  if (width !== frame.width || height !== frame.height) {
    throw new FormatError("damaged", message("file.sizeDiffers", { stated: `${frame.width}×${frame.height}`, found: `${width}×${height}` }));
  }
  return file;
}

async function decodeAgain(ctx: EngineContext, pictureId: string): Promise<RasterFile> {
  const { sourceId, quarterTurns } = sourceOfPicture(pictureId);
  const bytes = await ctx.loadSource(sourceId);
  return storePlanes(ctx, pictureId, await ctx.pool.run("decode", { bytes, quarterTurns }, undefined, deadlineOf(bytes)));
}

/** Writes decoded planes into the store, with display levels. */
export async function storePlanes(ctx: EngineContext, pictureId: string, { width, height, type, planes, alpha }: DecodedFile): Promise<RasterFile> {
  const file = await ctx.rasters.create(sourceKey(pictureId), { width, height, channels: 3, type, levels: levelCount(width, height) });
  planes.forEach((plane, channel) => file.write(0, channel, 0, plane));
  if (alpha) buildLevelsByAlpha(file, await storeAlpha(ctx, pictureId, { width, height, samples: alpha }));
  else buildLevels(ctx.kernels, file);
  await file.commit();
  return file;
}

async function storeAlpha(ctx: EngineContext, pictureId: string, { width, height, samples }: { width: number; height: number; samples: Uint16Array }) {
  const file = await ctx.rasters.create(alphaKey(pictureId), { width, height, channels: 1, type: "u16", levels: levelCount(width, height) });
  file.write(0, 0, 0, samples);
  buildLevels(ctx.kernels, file);
  await file.commit();
  return file;
}

/** The alpha that a frame came with, with display levels. */
export async function openAlpha(ctx: EngineContext, frame: FrameRecord): Promise<RasterFile | null> {
  if (frame.alpha === null) return null;
  const pictureId = pictureIdOf(frame);
  const key = alphaKey(pictureId);
  return ctx.cache.makeOnce(key, async () => {
    const known = await ctx.rasters.open(key);
    // it is written with its picture
    if (!known) await decodeAgain(ctx, pictureId);
    return known ?? (await ctx.rasters.open(key));
  });
}

export async function colorOf(ctx: EngineContext, sourceId: string): Promise<InputColor> {
  const known = ctx.colors.get(sourceId);
  if (known) return known;
  const color = await readColor(await ctx.loadSource(sourceId));
  ctx.colors.set(sourceId, color);
  return color;
}
