import { asMessage, message, type Telling } from "../../messages/message";
import type { Primaries } from "../../core/color/primaries";
import { viewOf } from "../bytes";
import { FormatError } from "../formatError";
import { areRec709 } from "../linearPrimaries";

/** How chunks are packed, by the number in the file. @see "OpenEXR file layout", the format's own description */
export const COMPRESSIONS = ["none", "RLE", "ZIPS", "ZIP", "PIZ", "PXR24", "B44", "B44A", "DWAA", "DWAB"] as const;
export type Compression = (typeof COMPRESSIONS)[number];
/** Rows of a chunk of scanlines. */
export const CHUNK_ROWS: Record<Compression, number> = { none: 1, RLE: 1, ZIPS: 1, ZIP: 16, PIZ: 32, PXR24: 16, B44: 32, B44A: 32, DWAA: 32, DWAB: 256 };

export type SampleKind = "uint" | "half" | "float";
const KINDS: SampleKind[] = ["uint", "half", "float"];
/** Bytes of a sample. */
export const KIND_BYTES: Record<SampleKind, number> = { uint: 4, half: 2, float: 4 };

export interface ExrChannel {
  name: string;
  kind: SampleKind;
  /** stored on a curve that looks even; matters to B44 only */
  perceptual: boolean;
  xStep: number;
  yStep: number;
}

/** Half-open, in pixels of the display. */
export interface Window {
  x0: number;
  y0: number;
  width: number;
  height: number;
}

export interface ExrPart {
  name: string;
  channels: ExrChannel[];
  compression: Compression;
  dataWindow: Window;
  displayWindow: Window;
  tiles: { width: number; height: number; mode: "one" | "mipmap" | "ripmap"; roundUp: boolean } | null;
  /** samples of many depths at a place */
  deep: boolean;
  primaries: Primaries | null;
  /** chunks as a file of several parts states them */
  chunkCount: number | null;
}

export interface ExrHeader {
  parts: ExrPart[];
  /** chunks begin with the number of their part */
  multipart: boolean;
  /** where the tables of chunks begin */
  end: number;
}

const MAGIC = 0x01312f76;
const FLAG_TILED = 0x200;
const FLAG_LONG_NAMES = 0x400;
const FLAG_DEEP = 0x800;
const FLAG_MULTIPART = 0x1000;
const MOST_PARTS = 64;
const MOST_CHANNELS = 256;

export const damagedExr = (why: Telling) => new FormatError("damaged", message("exr.damaged", { why: asMessage(why) }));

/** Reads what stands before the chunks. @throws FormatError with one sentence */
export function readExrHeader(bytes: Uint8Array): ExrHeader {
  if (bytes.length < 16) throw damagedExr("exr.openHeader");
  const view = viewOf(bytes);
  const version = view.getUint32(4, true);
  if (view.getUint32(0, true) !== MAGIC) throw damagedExr("exr.noSignature");
  if ((version & 255) !== 2 || version & ~(255 | FLAG_TILED | FLAG_LONG_NAMES | FLAG_DEEP | FLAG_MULTIPART))
    throw new FormatError("unsupported", "exr.version");
  const multipart = (version & FLAG_MULTIPART) !== 0;
  const reader = new HeaderReader(bytes, 8);
  const parts: ExrPart[] = [];
  do parts.push(reader.part((version & FLAG_TILED) !== 0, (version & FLAG_DEEP) !== 0));
  while (multipart && !reader.ended() && parts.length < MOST_PARTS);
  if (multipart && !reader.skipEnd()) throw damagedExr("exr.openHeader");
  const [{ displayWindow: shown }] = parts;
  const alike = ({ displayWindow: d }: ExrPart) => d.x0 === shown.x0 && d.y0 === shown.y0 && d.width === shown.width && d.height === shown.height;
  if (!(shown.width > 0 && shown.height > 0) || !parts.every(alike)) throw damagedExr("exr.header");
  return { parts, multipart, end: reader.at };
}

class HeaderReader {
  private readonly view: DataView;

  constructor(
    private readonly bytes: Uint8Array,
    public at: number,
  ) {
    this.view = viewOf(bytes);
  }

  ended(): boolean {
    return this.bytes[this.at] === 0;
  }

  skipEnd(): boolean {
    return this.bytes[this.at++] === 0;
  }

  private text(end = this.bytes.length): string {
    const stop = this.bytes.subarray(this.at, Math.min(end, this.at + 256)).indexOf(0);
    if (stop < 0) throw damagedExr("exr.openName");
    const value = new TextDecoder("latin1").decode(this.bytes.subarray(this.at, this.at + stop));
    this.at += stop + 1;
    return value;
  }

  /** Attributes up to the empty name that ends them. */
  part(tiled: boolean, deep: boolean): ExrPart {
    const found = new Map<string, { type: string; at: number; size: number }>();
    while (this.at < this.bytes.length && !this.ended()) {
      const name = this.text();
      const type = this.text();
      if (this.at + 4 > this.bytes.length) throw damagedExr("exr.openHeader");
      const size = this.view.getInt32(this.at, true);
      this.at += 4;
      if (size < 0 || this.at + size > this.bytes.length) throw damagedExr("exr.openHeader");
      if (found.has(name)) throw damagedExr(message("exr.twice", { name: name.slice(0, 32) }));
      found.set(name, { type, at: this.at, size });
      this.at += size;
    }
    if (!this.skipEnd()) throw damagedExr("exr.openHeader");
    const place = (name: string, type: string, size: number) => {
      const attribute = found.get(name);
      if (!attribute) return null;
      if (attribute.type !== type || (size > 0 && attribute.size !== size)) throw damagedExr(message("exr.kind", { name }));
      return attribute;
    };
    const needed = (name: string, type: string, size: number) => {
      const attribute = place(name, type, size);
      if (!attribute) throw damagedExr(message("exr.lacks", { name }));
      return attribute;
    };
    const words = (name: string) => {
      const attribute = place(name, "string", 0);
      return attribute ? new TextDecoder("latin1").decode(this.bytes.subarray(attribute.at, attribute.at + Math.min(attribute.size, 256))) : null;
    };
    const type = words("type");
    // what a picture is not shown without, and what it does not have otherwise
    const display = needed("displayWindow", "box2i", 16);
    const aspect = this.view.getFloat32(needed("pixelAspectRatio", "float", 4).at, true);
    if (!(aspect > 1e-6 && aspect < 1e6) || this.bytes[needed("lineOrder", "lineOrder", 1).at] > 2) throw damagedExr("exr.header");
    needed("screenWindowWidth", "float", 4);
    needed("screenWindowCenter", "v2f", 8);
    const byte = this.bytes[needed("compression", "compression", 1).at];
    const compression = COMPRESSIONS[byte];
    if (!compression) throw new FormatError("unsupported", message("exr.packing", { number: byte }));
    const chromaticities = place("chromaticities", "chromaticities", 32);
    const count = place("chunkCount", "int", 4);
    const isTiled = type ? type === "tiledimage" || type === "deeptile" : tiled;
    return {
      name: words("name") ?? "",
      channels: this.channels(needed("channels", "chlist", 0)),
      compression,
      dataWindow: this.window(needed("dataWindow", "box2i", 16).at),
      displayWindow: this.window(display.at),
      tiles: isTiled ? this.tiles(needed("tiles", "tiledesc", 9).at) : null,
      deep: deep || (type?.startsWith("deep") ?? false),
      primaries: chromaticities && this.primaries(chromaticities.at),
      chunkCount: count && this.view.getInt32(count.at, true),
    };
  }

  private channels({ at, size }: { at: number; size: number }): ExrChannel[] {
    const after = this.at;
    const end = at + size;
    const channels: ExrChannel[] = [];
    this.at = at;
    while (this.at < end && !this.ended()) {
      const name = this.text(end);
      if (this.at + 16 > end || channels.length === MOST_CHANNELS) throw damagedExr("exr.channels");
      const kind = KINDS[this.view.getInt32(this.at, true)];
      const [xStep, yStep] = [8, 12].map((o) => this.view.getInt32(this.at + o, true));
      if (!kind || xStep < 1 || yStep < 1 || channels.some((c) => c.name === name)) throw damagedExr("exr.channels");
      channels.push({ name, kind, perceptual: this.bytes[this.at + 4] !== 0, xStep, yStep });
      this.at += 16;
    }
    if (this.at !== end - 1 || channels.length === 0) throw damagedExr("exr.channels");
    this.at = after;
    return channels;
  }

  private window(at: number): Window {
    const [x0, y0, x1, y1] = [0, 4, 8, 12].map((o) => this.view.getInt32(at + o, true));
    return { x0, y0, width: x1 - x0 + 1, height: y1 - y0 + 1 };
  }

  private tiles(at: number): ExrPart["tiles"] {
    const [width, height] = [this.view.getUint32(at, true), this.view.getUint32(at + 4, true)];
    const mode = (["one", "mipmap", "ripmap"] as const)[this.bytes[at + 8] & 15];
    if (!(width > 0 && height > 0 && width <= 65_536 && height <= 65_536) || !mode) throw damagedExr("exr.tileSize");
    return { width, height, mode, roundUp: this.bytes[at + 8] >> 4 !== 0 };
  }

  /** Null where it names those of Rec. 709, which hold where nothing is named. */
  private primaries(at: number): Primaries | null {
    const [rx, ry, gx, gy, bx, by, wx, wy] = Array.from({ length: 8 }, (_, i) => this.view.getFloat32(at + i * 4, true));
    const own: Primaries = { red: [rx, ry], green: [gx, gy], blue: [bx, by], white: [wx, wy] };
    return areRec709(own) ? null : own;
  }
}

/** The colour channels of a picture: red, green and blue, or one of luminance; of a layer where there is none without a name. */
export interface Picked {
  part: ExrPart;
  index: number;
  /** places in the part's list of channels */
  channels: [number, number, number];
  alpha: number | null;
  layer: string;
}

/** The first part that is a picture. @throws FormatError where there is none that Marsh reads, by name */
export function pickPicture({ parts }: ExrHeader): Picked {
  let reason: FormatError | null = null;
  for (const [index, part] of parts.entries()) {
    try {
      return pickOf(part, index);
    } catch (error) {
      reason ??= error as FormatError;
    }
  }
  throw reason ?? damagedExr("exr.noParts");
}

function pickOf(part: ExrPart, index: number): Picked {
  const refused = (told: Telling) => new FormatError("unsupported", told);
  const { compression } = part;
  if (part.deep) throw refused("exr.deep");
  if (compression === "DWAA" || compression === "DWAB") throw refused(message("exr.compression", { compression }));
  if (part.channels.some((c) => c.name === "RY" || c.name === "BY")) throw refused("exr.differences");
  const of = (name: string) => part.channels.findIndex((c) => c.name === name);
  const layers = ["", ...part.channels.filter((c) => c.name.endsWith(".R")).map((c) => c.name.slice(0, -1))];
  for (const layer of layers) {
    const channels = ["R", "G", "B"].map((c) => of(layer + c));
    if (channels.every((c) => c >= 0)) return picked(part, index, channels, layer);
  }
  const grey = of("Y");
  if (grey < 0) throw refused("exr.noColours");
  return picked(part, index, [grey, grey, grey], "");
}

function picked(part: ExrPart, index: number, channels: number[], layer: string): Picked {
  const isWhole = (c: number) => part.channels[c].xStep === 1 && part.channels[c].yStep === 1;
  if (!channels.every(isWhole)) throw new FormatError("unsupported", "exr.thinned");
  const alpha = part.channels.findIndex((c) => c.name === `${layer}A`);
  return { part, index, channels: channels as Picked["channels"], alpha: alpha >= 0 && isWhole(alpha) ? alpha : null, layer };
}
