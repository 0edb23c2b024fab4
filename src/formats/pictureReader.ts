import { message, type Message } from "../messages/message";
import { REC2020, REC709, rgbToRgb } from "../core/color/primaries";
import type { SourceRaster } from "../core/raster/raster";
import type { Codecs } from "./codecs";
import type { ExifFacts } from "./exif/exif";
import { FormatError } from "./formatError";
import { readProfile, SRGB_INPUT, type InputColor } from "./icc/readProfile";
import type { FileAlpha } from "./takeAlpha";
import { colorAfterTables, hasTables } from "./icc/tableProfile";

/** A format of picture files. */
export interface PictureReader {
  /** as people call it */
  name: string;
  /** whether a file is of it, by its content */
  is(bytes: Uint8Array): boolean;
  /** @throws FormatError with one sentence for people */
  decode(bytes: Uint8Array, codecs: Codecs): Decoded | Promise<Decoded>;
  /** the colour its decoded samples are in, told without decoding them */
  color(bytes: Uint8Array): ColorFacts | Promise<ColorFacts>;
}

/** What a decoder gives: samples as stored, and what it alone knows. */
export interface Decoded {
  raster: SourceRaster;
  /** what of it shows; null or left out: everything */
  alpha?: FileAlpha | null;
  /** facts for what the metadata leaves open */
  facts?: ExifFacts;
  /** orientation where the container, not the EXIF, states it; 1 where the decoder has turned the picture */
  orientation?: number;
  notes?: Message[];
}

/** A file's colour, and what its samples have to go through to have it. */
export interface ColorFacts {
  color: InputColor;
  notes: Message[];
  /** a profile that goes through tables */
  tables?: Uint8Array;
  /** samples become linear floats: floats already, or light above white */
  float?: boolean;
}

/** The first two bytes of a file, high byte first. */
export const headOf = (bytes: Uint8Array): number => (bytes[0] << 8) | bytes[1];

export function colorOfProfile(profile: Uint8Array | null): ColorFacts {
  if (!profile) return orSrgb(() => ({}));
  return orSrgb(() => (hasTables(profile) ? { color: colorAfterTables(profile), tables: profile } : { color: readProfile(profile) }));
}

/** Without a usable profile a picture is taken as sRGB, and said so where there was one. */
export function orSrgb(read: () => Partial<ColorFacts>): ColorFacts {
  const color = SRGB_INPUT(rgbToRgb(REC709, REC2020));
  try {
    return { color, notes: [], ...read() };
  } catch (error) {
    if (!(error instanceof FormatError)) throw error;
    return { color, notes: [message("file.takenAsSrgb", { why: error.told })] };
  }
}

/** Samples that are linear light of some primaries. @param toWorking from their light to working light */
export const linearColor = ({ name, toWorking }: { name: string; toWorking: number[] }): InputColor => ({ ...linearOf(SRGB_INPUT(toWorking)), name });

/** The same primaries for samples that are linear already. */
export function linearOf(color: InputColor): InputColor {
  const same = (v: number) => v;
  return { ...color, curves: [same, same, same] };
}
