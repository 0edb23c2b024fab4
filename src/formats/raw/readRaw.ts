import { message, type Message } from "../../messages/message";
import type { SourceRaster } from "../../core/raster/raster";
import { NO_EXIF, type ExifFacts } from "../exif/exif";
import { checkPictureSize, FormatError } from "../formatError";
import { scanDirectories } from "../tiff/scanDirectories";

const DECODER = "LibRaw (libraw-wasm 1.6.0)";
const FILTER_ARRAY = 32803;
const LINEAR_RAW = 34892;

/** What Marsh uses of the decoder's module; its own types describe a wrapper with a worker of its own. */
export interface RawModule {
  LibRaw: new () => RawDecoder;
}
interface RawDecoder {
  open(bytes: Uint8Array, settings: Record<string, unknown>): void;
  metadata(full: boolean): RawFacts;
  imageData(): { width: number; height: number; colors: number; bits: number; data: Uint16Array } | undefined;
  delete(): void;
}
interface RawFacts {
  width: number;
  height: number;
  camera_make: string;
  camera_model: string;
  iso_speed: number;
  shutter: number;
  aperture: number;
  focal_len: number;
  color_data: { black: number; maximum: number; cam_mul: number[] };
}

/** Whether a TIFF-based file holds sensor data rather than a finished picture. */
export function isTiffRaw(bytes: Uint8Array): boolean {
  const { directories, isDng } = scanDirectories(bytes);
  const previewFirst = directories.length > 1 && directories[0].compression === 6;
  return isDng || previewFirst || directories.some((d) => d.photometric === FILTER_ARRAY || d.photometric === LINEAR_RAW);
}

/**
 * Develops a camera raw or DNG: black level off, white balance as shot, demosaiced (adaptive homogeneity directed), linear Rec. 2020,
 * clipped at the sensor's white level. Turned upright by the decoder.
 * @param start starts a fresh decoder @returns 16 bit linear light; `facts` for what the file's own metadata does not say
 * @throws FormatError with one sentence
 */
export async function readRaw(bytes: Uint8Array, start: () => Promise<RawModule>): Promise<{ raster: SourceRaster; facts: ExifFacts; notes: Message[] }> {
  checkData(bytes);
  idle ??= start();
  const decoder = new (await idle).LibRaw();
  const failed = () => new FormatError("damaged", message("raw.damaged", { decoder: DECODER }));
  let picture: ReturnType<RawDecoder["imageData"]>;
  let facts: RawFacts;
  try {
    decoder.open(bytes, {
      outputBps: 16,
      outputColor: REC2020_OUTPUT,
      gamm: [1, 1, 0, 0, 0, 0],
      noAutoBright: true,
      useCameraWb: true,
      userQual: 3,
      highlight: 0,
    });
    facts = decoder.metadata(true);
  } catch {
    decoder.delete();
    throw unknownPicture();
  }
  if (!(facts.width > 0)) throw unknownPicture();
  checkPictureSize(facts.width, facts.height);
  try {
    picture = decoder.imageData();
  } catch {
    throw failed();
  } finally {
    // its memory has grown to this picture and never shrinks
    idle = null;
  }
  if (!picture?.data || picture.bits !== 16 || picture.data.length < picture.width * picture.height * picture.colors) throw failed();
  const { width, height, colors, data } = picture;
  if (colors !== 3) throw new FormatError("unsupported", "raw.notRgb");
  const { black, maximum, cam_mul: gains } = facts.color_data;
  const gain = (c: number) => (gains[c] / (gains[1] || 1)).toFixed(2);
  const positive = (v: number) => (v > 0 ? v : null);
  return {
    raster: { width, height, bits: 16, data: data.slice(0, width * height * 3) },
    facts: {
      ...NO_EXIF,
      exposureTimeS: positive(facts.shutter),
      aperture: positive(facts.aperture),
      iso: positive(facts.iso_speed),
      focalLengthMm: positive(facts.focal_len),
      make: facts.camera_make || null,
      model: facts.camera_model || null,
    },
    notes: [message("raw.developed", { decoder: DECODER, black, white: maximum, red: gain(0), green: gain(1), blue: gain(2) })],
  };
}

/** A started decoder that has not yet held a picture. */
let idle: Promise<RawModule> | null = null;

/** The decoder's number for Rec. 2020 output. */
const REC2020_OUTPUT = 8;

const unknownPicture = () => new FormatError("unsupported", "file.unknown");

/** The decoder fills what is missing with black; so a file that ends before its data is refused here. */
function checkData(bytes: Uint8Array): void {
  if (!((bytes[0] === 0x49 && bytes[1] === 0x49) || (bytes[0] === 0x4d && bytes[1] === 0x4d))) return;
  for (const { width, height, dataEnd, photometric } of scanDirectories(bytes).directories) {
    if (dataEnd > bytes.length) throw new FormatError("damaged", "raw.cutShort");
    if (photometric === FILTER_ARRAY || photometric === LINEAR_RAW) checkPictureSize(width, height);
  }
}
