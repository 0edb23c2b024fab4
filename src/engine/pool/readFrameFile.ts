import type { Message } from "../../messages/message";
import { measureClipping, measureEdgeWidth, measureNoise } from "../../core/measure/frameMeasures";
import { turnPlane, turnQuarters, type QuarterTurns } from "../../core/raster/orientation";
import { takeApart } from "../../core/raster/largeSamples";
import { countStars, plainBorder, sharpnessGrid } from "../../core/measure/frameGrid";
import { buildGreyPyramid, type GreyPyramid } from "../../core/register/greyPyramid";
import { describeFrame } from "../../core/register/setFrames";
import type { FrameRecord } from "../../document/records/types";
import type { Codecs } from "../../formats/codecs";
import { exposureEvOf, type ExifFacts } from "../../formats/exif/exif";
import { readPicture, type Picture } from "../../formats/readPicture";
import { encoderOf } from "../operations/frames/encoder";
import { allocateSamples, type SampleType, type Samples } from "../tiles/RasterStore";

/** A picture file as decoded. */
export interface DecodedFile {
  width: number;
  height: number;
  type: SampleType;
  planes: Samples[];
  /** what of it shows, 0..65535; null: everything */
  alpha: Uint16Array | null;
}

/** The same with all that is measured of it. */
export interface FrameFile extends DecodedFile {
  alphaKind: FrameRecord["alpha"];
  grey: GreyPyramid;
  facts: Omit<ExifFacts, "orientation"> & { meteredEv: number | null };
  format: string;
  bits: 8 | 16 | 32;
  colorName: string;
  notes: Message[];
  measures: FrameRecord["measures"];
}

const typeOf = (bits: number): SampleType => (bits === 8 ? "u8" : bits === 16 ? "u16" : "f32");

/** @throws FormatError with one sentence for people */
export async function decodeFile(bytes: Uint8Array, codecs: Codecs, quarterTurns: QuarterTurns): Promise<DecodedFile> {
  const picture = await readPicture(bytes, codecs);
  const { width, height, bits, data } = turnQuarters(picture.raster, quarterTurns);
  const type = typeOf(bits);
  return { width, height, type, planes: planesOf(data, type, width * height), alpha: turnedAlpha(picture, quarterTurns) };
}

/** Decodes and measures one picture file. @throws FormatError with one sentence for people */
export async function readFrameFile(bytes: Uint8Array, codecs: Codecs, quarterTurns: QuarterTurns): Promise<FrameFile> {
  const picture = await readPicture(bytes, codecs);
  const { exif, color, format, notes } = picture;
  const raster = turnQuarters(picture.raster, quarterTurns);
  const { width, height, bits, data } = raster;
  const type = typeOf(bits);
  const grey = buildGreyPyramid(raster, encoderOf(color, type) ?? undefined);
  const base = { width, height, data: grey.base };
  const clipping = measureClipping(raster);
  const noise = measureNoise(base);
  const { orientation: _applied, ...facts } = exif;
  return {
    width,
    height,
    type,
    planes: planesOf(data, type, width * height),
    alpha: turnedAlpha(picture, quarterTurns),
    alphaKind: picture.alpha?.kind ?? null,
    grey,
    facts: { ...facts, meteredEv: exposureEvOf(exif) },
    format,
    bits: bits as FrameFile["bits"],
    colorName: color.name,
    notes,
    measures: {
      clippedHigh: clipping.high,
      clippedLow: clipping.low,
      noiseSigma: noise.sigma,
      noiseAt: noise.linearMean,
      edgeWidthPx: measureEdgeWidth(base),
      brightness: describeFrame(grey).brightness,
      sharpness: sharpnessGrid(grey, noise.sigma).map((v) => (Number.isFinite(v) ? v : null)),
      stars: countStars(grey),
      plainBorder: plainBorder(base),
    },
  };
}

const turnedAlpha = ({ alpha, raster }: Picture, quarterTurns: QuarterTurns): Uint16Array | null => alpha && turnPlane(alpha.samples, raster, quarterTurns);

/** Interleaved samples as planes. @param data not used any more afterwards */
function planesOf(data: Samples, type: SampleType, n: number): Samples[] {
  return takeApart(data, n, (length) => allocateSamples(type, length));
}
