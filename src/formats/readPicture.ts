import { message, type Message } from "../messages/message";
import { REC2020, REC709, rgbToRgb, type Primaries } from "../core/color/primaries";
import { pow } from "../core/numeric/elementary";
import { applyOrientation } from "../core/raster/orientation";
import type { SourceRaster } from "../core/raster/raster";
import { colorOfCodes, reachesAboveWhite } from "./avif/codedColor";
import { isAvif, readAvif, readAvifFacts } from "./avif/readAvif";
import type { Codecs } from "./codecs";
import type { ExifFacts } from "./exif/exif";
import { readExif } from "./exif/readExif";
import { readExr, readExrPrimaries } from "./exr/readExr";
import { checkPictureSize, FormatError, LIMITS } from "./formatError";
import { hdrColor, readHdr, readHdrHeader } from "./hdr/readHdr";
import { readProfile, SRGB_INPUT, type InputColor } from "./icc/readProfile";
import { applyTables, colorAfterTables, hasTables, type ColorLibrary } from "./icc/tableProfile";
import { checkJpegScans, readJpegHeader, readJpegProfile } from "./jpeg/segments";
import { areRec709, fromPrimaries } from "./linearPrimaries";
import { readPng, readPngColor, type PngColor } from "./png/readPng";
import { isTiffRaw, readRaw } from "./raw/readRaw";
import { isFloatTiff, readTiff, readTiffProfile } from "./tiff/readTiff";
import { isWebp, readWebp, readWebpProfile } from "./webp/readWebp";

export type PictureFormat = "JPEG" | "PNG" | "TIFF" | "WebP" | "AVIF" | "OpenEXR" | "Radiance" | "camera raw";

export interface Picture {
  raster: SourceRaster;
  exif: ExifFacts;
  color: InputColor;
  format: PictureFormat;
  /** what was assumed, for people */
  notes: Message[];
}

/** What a decoder gives: samples as stored, and what it alone knows. */
interface Decoded {
  raster: SourceRaster;
  /** facts for what the metadata leaves open */
  facts?: ExifFacts;
  /** orientation where the container, not the EXIF, states it; 1 where the decoder has turned the picture */
  orientation?: number;
  notes?: Message[];
}

/** A file's colour, and what its samples have to go through to have it. */
interface ColorFacts {
  color: InputColor;
  notes: Message[];
  /** a profile that goes through tables */
  tables?: Uint8Array;
  /** samples become linear floats: floats already, or light above white */
  float?: boolean;
}

/**
 * Reads a picture file by its content, not by its name; orientation is applied, ICC profiles are honoured.
 * @throws FormatError with one sentence for people
 */
export async function readPicture(bytes: Uint8Array, codecs: Codecs): Promise<Picture> {
  if (bytes.length === 0) throw new FormatError("damaged", "file.empty");
  if (bytes.length > LIMITS.fileBytes) throw new FormatError("limit", message("file.tooLarge", { gb: LIMITS.fileBytes / 1e9 }));
  const format = formatOf(bytes);
  const decoded = await decode(bytes, format, codecs);
  const { color, notes, tables, float } = colorFacts(bytes, format);
  const exif = completed(readExif(bytes), decoded);
  let raster = decoded.raster;
  if (tables) raster = applyTables(raster, tables, await codecs.start<ColorLibrary>("profiles"));
  else if (float) raster = linearize(raster, color);
  const held = raster.data instanceof Float32Array ? holdNumbers(raster.data) : [];
  return {
    raster: applyOrientation(raster, exif.orientation),
    exif,
    color: float ? linearOf(color) : color,
    format,
    notes: [...notes, ...(decoded.notes ?? []), ...held],
  };
}

/** The colour a file's decoded samples are in, without decoding them. */
export function readColor(bytes: Uint8Array): InputColor {
  const { color, float } = colorFacts(bytes, formatOf(bytes));
  return float ? linearOf(color) : color;
}

function formatOf(bytes: Uint8Array): PictureFormat {
  const head = (bytes[0] << 8) | bytes[1];
  if (head === 0xffd8) return "JPEG";
  if (head === 0x8950) return "PNG";
  if (head === 0x762f) return "OpenEXR";
  if (head === 0x233f) return "Radiance";
  if (isWebp(bytes)) return "WebP";
  if (isAvif(bytes)) return "AVIF";
  if ((head === 0x4949 || head === 0x4d4d) && isPlainTiff(bytes)) return "TIFF";
  // sensor data comes in many containers; its decoder says whether it knows this one
  return "camera raw";
}

/** A TIFF 6.0 or BigTIFF that holds a finished picture. */
function isPlainTiff(bytes: Uint8Array): boolean {
  const version = bytes[0] === 0x49 ? bytes[2] | (bytes[3] << 8) : (bytes[2] << 8) | bytes[3];
  return version === 43 || (version === 42 && !isTiffRaw(bytes));
}

async function decode(bytes: Uint8Array, format: PictureFormat, codecs: Codecs): Promise<Decoded> {
  switch (format) {
    case "JPEG": {
      const { width, height, channels } = readJpegHeader(bytes);
      checkPictureSize(width, height);
      checkJpegScans(bytes, width * height);
      if (channels === 4) throw new FormatError("unsupported", "jpeg.notRgb");
      return { raster: codecs.jpeg.decode(bytes) };
    }
    case "PNG":
      return readPng(bytes);
    case "TIFF":
      return readTiff(bytes);
    case "WebP":
      return readWebp(bytes, () => codecs.start("webp"));
    case "AVIF": {
      const { raster, facts } = await readAvif(bytes, () => codecs.start("avif"));
      return { raster, orientation: facts.orientation };
    }
    case "OpenEXR":
      return readExr(bytes);
    case "Radiance":
      return readHdr(bytes);
    case "camera raw":
      return { ...(await readRaw(bytes, () => codecs.start("raw"))), orientation: 1 };
  }
}

function colorFacts(bytes: Uint8Array, format: PictureFormat): ColorFacts {
  switch (format) {
    case "JPEG":
      return colorOfProfile(readJpegProfile(bytes));
    case "PNG":
      return colorOfPng(readPngColor(bytes));
    case "WebP":
      return colorOfProfile(readWebpProfile(bytes));
    case "TIFF":
      return isFloatTiff(bytes) ? colorOfFloats(readTiffProfile(bytes)) : colorOfProfile(readTiffProfile(bytes));
    case "OpenEXR": {
      const { name, toWorking } = fromPrimaries(readExrPrimaries(bytes), "OpenEXR");
      return { color: { ...linearOf(SRGB_INPUT(toWorking)), name }, notes: [], float: true };
    }
    case "Radiance": {
      const { name, toWorking } = hdrColor(readHdrHeader(bytes));
      return { color: { ...linearOf(SRGB_INPUT(toWorking)), name }, notes: [], float: true };
    }
    case "camera raw":
      return { color: { ...linearOf(SRGB_INPUT(rgbToRgb(REC2020, REC2020))), name: "linear Rec. 2020" }, notes: [] };
    case "AVIF": {
      const { profile, coded } = readAvifFacts(bytes);
      if (profile || !coded) return colorOfProfile(profile);
      return orSrgb(() => ({ color: colorOfCodes(coded), float: reachesAboveWhite(coded) }));
    }
  }
}

function colorOfProfile(profile: Uint8Array | null): ColorFacts {
  if (!profile) return orSrgb(() => ({}));
  return orSrgb(() => (hasTables(profile) ? { color: colorAfterTables(profile), tables: profile } : { color: readProfile(profile) }));
}

function colorOfPng(stated: PngColor): ColorFacts {
  if (!stated) return colorOfProfile(null);
  return orSrgb(() => {
    if (stated.by === "codes") return { color: colorOfCodes(stated), float: reachesAboveWhite(stated) };
    if (stated.by === "profile") {
      if (!stated.profile) throw new FormatError("damaged", "profile.damaged");
      return colorOfProfile(stated.profile);
    }
    const { exponent, primaries } = stated;
    const own: Primaries | null = primaries && chromaticities(primaries);
    const standard = !own || areRec709(own);
    // the exponent that the format asks for beside sRGB
    if (standard && Math.abs(exponent - 2.2) < 0.02) return {};
    if (!(exponent > 0.2 && exponent < 10)) throw new FormatError("unsupported", message("png.curve", { exponent }));
    const curve = (v: number) => pow(Math.max(0, v), exponent);
    const space = standard ? "Rec. 709" : "primaries of its own";
    return {
      color: { name: `${space}, gamma ${Number(exponent.toPrecision(3))}`, curves: [curve, curve, curve], toWorking: fromPrimaries(own, "PNG").toWorking },
    };
  });
}

const chromaticities = ([rx, ry, gx, gy, bx, by, wx, wy]: number[]): Primaries => ({ red: [rx, ry], green: [gx, gy], blue: [bx, by], white: [wx, wy] });

/** Colour of float samples: linear Rec. 709 where nothing is said. */
function colorOfFloats(profile: Uint8Array | null): ColorFacts {
  const facts = colorOfProfile(profile);
  if (profile && facts.notes.length === 0) return { ...facts, float: true };
  return { color: { ...linearOf(facts.color), name: "linear Rec. 709" }, notes: facts.notes, float: true };
}

/** Without a usable profile a picture is taken as sRGB, and said so where there was one. */
function orSrgb(read: () => Partial<ColorFacts>): ColorFacts {
  const color = SRGB_INPUT(rgbToRgb(REC709, REC2020));
  try {
    return { color, notes: [], ...read() };
  } catch (error) {
    if (!(error instanceof FormatError)) throw error;
    return { color, notes: [message("file.takenAsSrgb", { why: error.told })] };
  }
}

/** The same primaries for samples that are linear already. */
function linearOf(color: InputColor): InputColor {
  const same = (v: number) => v;
  return { ...color, curves: [same, same, same] };
}

/** Brightest light that is kept, the largest half float: sums of squares of it stay within float32. */
const BRIGHTEST = 65_504;

/**
 * Makes px empty in which a sample is infinite or not a number: all three become NaN, which no merge gives any weight. What is too bright is held.
 * @param data interleaved RGB, in place @returns notes for people
 */
function holdNumbers(data: Float32Array): Message[] {
  let [empty, bright] = [0, 0];
  for (let i = 0; i < data.length; i += 3) {
    if (!(Number.isFinite(data[i]) && Number.isFinite(data[i + 1]) && Number.isFinite(data[i + 2]))) {
      empty++;
      data.fill(NaN, i, i + 3);
      continue;
    }
    let held = false;
    for (let c = i; c < i + 3; c++) {
      if (Math.abs(data[c]) <= BRIGHTEST) continue;
      data[c] = data[c] > 0 ? BRIGHTEST : -BRIGHTEST;
      held = true;
    }
    if (held) bright++;
  }
  const share = (count: number) => ({ count, percent: ((300 * count) / data.length).toPrecision(2) });
  const notes: Message[] = [];
  if (empty > 0) notes.push(message("file.emptyPixels", share(empty)));
  if (bright > 0) notes.push(message("file.heldPixels", { ...share(bright), most: String(BRIGHTEST) }));
  return notes;
}

/** Linear floats of coded samples. */
function linearize({ width, height, bits, data }: SourceRaster, color: InputColor): SourceRaster {
  const top = bits === 32 ? 1 : 2 ** bits - 1;
  const tables = bits === 32 ? null : color.curves.map((curve) => Float32Array.from({ length: top + 1 }, (_, code) => curve(code / top)));
  const out = bits === 32 ? (data as Float32Array) : new Float32Array(data.length);
  for (let i = 0, c = 0; i < data.length; i++, c = c === 2 ? 0 : c + 1) out[i] = tables ? tables[c][data[i]] : color.curves[c](data[i]);
  return { width, height, bits: 32, data: out };
}

/** Metadata with what only the decoder knows. */
function completed(exif: ExifFacts, { facts, orientation }: Decoded): ExifFacts {
  const known = Object.fromEntries(Object.entries(exif).filter(([, v]) => v !== null));
  return { ...exif, ...facts, ...known, orientation: orientation ?? exif.orientation };
}
