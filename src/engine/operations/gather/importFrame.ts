import { measureClipping, measureEdgeWidth, measureNoise } from "../../../core/measure/frameMeasures";
import { countStars, plainBorder, sharpnessGrid } from "../../../core/measure/frameGrid";
import { exposureEvOf } from "../../../formats/exif/exif";
import { readPicture } from "../../../formats/readPicture";
import { buildGreyPyramid } from "../../../core/register/greyPyramid";
import { describeFrame } from "../../../core/register/registerSet";
import type { NewFrame } from "../../../document/edits";
import type { EngineContext } from "../../EngineContext";
import { sha256 } from "../../graph/keys";
import type { Task } from "../../task";
import { encoderOf } from "../frames/greyOfSource";
import { sourceKey, storePicture } from "../frames/sources";

export type ImportedFrame = NewFrame;

/** Decodes, measures and stores one picture file. @throws FormatError with one sentence for people */
export async function importFrame(ctx: EngineContext, fileName: string, bytes: Uint8Array, task: Task): Promise<ImportedFrame> {
  await task.step(0, 4, `Reading ${fileName}`);
  const sourceId = await sha256(bytes);
  const picture = await readPicture(bytes, ctx.codecs);
  await task.step(1, 4, `Keeping ${fileName}`);
  await ctx.cache.makeOnce(sourceKey(sourceId), () => storePicture(ctx, sourceId, picture));
  await task.step(2, 4, `Measuring ${fileName}`);
  const { raster, exif } = picture;
  const grey = buildGreyPyramid(raster, encoderOf(picture.color, raster.bits === 8 ? "u8" : raster.bits === 16 ? "u16" : "f32") ?? undefined);
  const base = { width: grey.width, height: grey.height, data: grey.base };
  const { brightness } = describeFrame(grey);
  const clipping = measureClipping(raster);
  const noise = measureNoise(base);
  await task.step(3, 4, `Measuring ${fileName}`);
  const edgeWidthPx = measureEdgeWidth(base);
  const sharpness = sharpnessGrid(grey, noise.sigma).map((v) => (Number.isFinite(v) ? v : null));
  const { orientation: _applied, ...facts } = exif;
  return {
    ...facts,
    sourceId,
    fileName,
    format: picture.format,
    width: raster.width,
    height: raster.height,
    bits: raster.bits,
    colorName: picture.color.name,
    meteredEv: exposureEvOf(exif),
    measures: {
      clippedHigh: clipping.high,
      clippedLow: clipping.low,
      noiseSigma: noise.sigma,
      noiseAt: noise.linearMean,
      edgeWidthPx,
      brightness,
      sharpness,
      stars: countStars(grey),
      plainBorder: plainBorder(base),
    },
    notes: picture.notes,
  };
}
