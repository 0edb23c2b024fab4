import { message, type Message } from "../messages/message";
import { applyOrientation, orientPlane } from "../core/raster/orientation";
import type { SourceRaster } from "../core/raster/raster";
import type { Codecs } from "./codecs";
import type { ExifFacts } from "./exif/exif";
import { readExif } from "./exif/readExif";
import { FormatError, LIMITS } from "./formatError";
import type { InputColor } from "./icc/readProfile";
import { applyTables, type ColorLibrary } from "./icc/tableProfile";
import { linearOf, type Decoded } from "./pictureReader";
import { readerOf } from "./pictureReaders";
import { settleAlpha, type KeptAlpha } from "./takeAlpha";

export interface Picture {
  raster: SourceRaster;
  /** what of it shows, where it came with alpha that says something; colours are not multiplied by it */
  alpha: KeptAlpha | null;
  exif: ExifFacts;
  color: InputColor;
  /** as people call it */
  format: string;
  /** what was assumed, for people */
  notes: Message[];
}

/**
 * Reads a picture file by its content, not by its name; orientation is applied, ICC profiles are honoured.
 * @throws FormatError with one sentence for people
 */
export async function readPicture(bytes: Uint8Array, codecs: Codecs): Promise<Picture> {
  if (bytes.length === 0) throw new FormatError("damaged", "file.empty");
  if (bytes.length > LIMITS.fileBytes) throw new FormatError("limit", message("file.tooLarge", { gb: LIMITS.fileBytes / 1e9 }));
  const reader = readerOf(bytes);
  const decoded = await reader.decode(bytes, codecs);
  const { color, notes, tables, float } = await reader.color(bytes);
  const exif = completed(readExif(bytes), decoded);
  let raster = decoded.raster;
  const settled = decoded.alpha ? settleAlpha(raster, decoded.alpha) : { alpha: null, notes: [] };
  if (tables) raster = applyTables(raster, tables, await codecs.start<ColorLibrary>("profiles"));
  else if (float) raster = linearize(raster, color);
  const held = raster.data instanceof Float32Array ? holdNumbers(raster.data) : [];
  return {
    raster: applyOrientation(raster, exif.orientation),
    alpha: settled.alpha && { ...settled.alpha, samples: orientPlane(settled.alpha.samples, raster, exif.orientation) },
    exif,
    color: float ? linearOf(color) : color,
    format: reader.name,
    notes: [...notes, ...(decoded.notes ?? []), ...settled.notes, ...held],
  };
}

/** The colour a file's decoded samples are in, without decoding them. */
export async function readColor(bytes: Uint8Array): Promise<InputColor> {
  const { color, float } = await readerOf(bytes).color(bytes);
  return float ? linearOf(color) : color;
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
