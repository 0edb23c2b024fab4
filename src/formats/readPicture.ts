import { REC2020, REC709, rgbToRgb } from "../core/color/primaries";
import { applyOrientation } from "../core/raster/orientation";
import type { SourceRaster } from "../core/raster/raster";
import type { ExifFacts } from "./exif/exif";
import { readExif } from "./exif/readExif";
import { checkPictureSize, FormatError, LIMITS } from "./formatError";
import { readProfile, SRGB_INPUT, type InputColor } from "./icc/readProfile";
import type { JpegCodec } from "./jpeg/jpegCodec";
import { readJpegHeader, readJpegProfile } from "./jpeg/segments";
import { readPng, readPngProfile } from "./png/readPng";
import { readExr, readHdr } from "./float/readFloatPictures";
import { isFloatTiff, readTiff, readTiffProfile } from "./tiff/readTiff";

export type PictureFormat = "JPEG" | "PNG" | "TIFF" | "OpenEXR" | "Radiance";

export interface Picture {
  raster: SourceRaster;
  exif: ExifFacts;
  color: InputColor;
  format: PictureFormat;
  /** sentences for people about what was assumed */
  notes: string[];
}

/**
 * Reads a picture file by its content, not by its name; orientation is applied, an ICC matrix profile honoured.
 * @throws FormatError with one sentence for people
 */
export function readPicture(bytes: Uint8Array, jpeg: JpegCodec): Picture {
  if (bytes.length === 0) throw new FormatError("damaged", "The file is empty.");
  if (bytes.length > LIMITS.fileBytes) throw new FormatError("limit", `The file is over ${LIMITS.fileBytes / 1e9} GB, the largest Marsh reads.`);
  const { format, raster, profile } = decode(bytes, jpeg);
  const exif = readExif(bytes);
  if (raster.bits !== 32) return { raster: applyOrientation(raster, exif.orientation), exif, format, ...interpretProfile(profile) };
  // float samples are kept as linear light, so a profile's curves are undone at once
  const { color, notes } = interpretFloat(profile);
  if (profile) raster.data.forEach((v, i) => (raster.data[i] = color.curves[i % 3](v)));
  return { raster: applyOrientation(raster, exif.orientation), exif, format, color: linearOf(color), notes };
}

/** The colour a file is encoded in, without decoding its pixels. */
export function readColor(bytes: Uint8Array): { color: InputColor; notes: string[] } {
  const head = (bytes[0] << 8) | bytes[1];
  if (head === 0xffd8) return interpretProfile(readJpegProfile(bytes));
  if (head === 0x8950) return interpretProfile(readPngProfile(bytes));
  if (head === 0x762f || head === 0x233f) return { color: linearOf(interpretFloat(null).color), notes: [] };
  const profile = readTiffProfile(bytes);
  return isFloatTiff(bytes) ? { color: linearOf(interpretFloat(profile).color), notes: [] } : interpretProfile(profile);
}

/** Colour of float samples: linear Rec. 709 where nothing is said. */
function interpretFloat(profile: Uint8Array | null): { color: InputColor; notes: string[] } {
  const { color, notes } = interpretProfile(profile);
  return { color: profile && notes.length === 0 ? color : { ...linearOf(color), name: "linear Rec. 709" }, notes };
}

/** The same primaries for samples that are linear already. */
function linearOf(color: InputColor): InputColor {
  const same = (v: number) => v;
  return { ...color, curves: [same, same, same] };
}

function interpretProfile(profile: Uint8Array | null): { color: InputColor; notes: string[] } {
  const assumed = SRGB_INPUT(rgbToRgb(REC709, REC2020));
  if (!profile) return { color: assumed, notes: [] };
  try {
    return { color: readProfile(profile), notes: [] };
  } catch (error) {
    if (!(error instanceof FormatError)) throw error;
    return { color: assumed, notes: [`${error.message} The picture is taken as sRGB.`] };
  }
}

function decode(bytes: Uint8Array, jpeg: JpegCodec): { format: Picture["format"]; raster: SourceRaster; profile: Uint8Array | null } {
  const head = (bytes[0] << 8) | bytes[1];
  if (head === 0xffd8) {
    const { width, height, channels } = readJpegHeader(bytes);
    checkPictureSize(width, height);
    if (channels === 4) throw new FormatError("unsupported", "The JPEG is not RGB or grey (four channels, probably CMYK). Convert it to RGB first.");
    return { format: "JPEG", raster: jpeg.decode(bytes), profile: readJpegProfile(bytes) };
  }
  if (head === 0x8950) return { format: "PNG", ...readPng(bytes) };
  if (head === 0x4949 || head === 0x4d4d) return { format: "TIFF", ...readTiff(bytes) };
  if (head === 0x762f) return { format: "OpenEXR", raster: readExr(bytes), profile: null };
  if (head === 0x233f) return { format: "Radiance", raster: readHdr(bytes), profile: null };
  throw new FormatError("unsupported", "This is not a JPEG, PNG, TIFF, OpenEXR or Radiance picture.");
}
