import { message } from "../../messages/message";
import { roomFor } from "../../core/raster/largeSamples";
import type { SourceRaster } from "../../core/raster/raster";
import { checkPictureSize, FormatError, LIMITS } from "../formatError";
import { inflateWhole } from "../inflate";
import type { FileAlpha } from "../takeAlpha";
import { decodeLzw } from "./lzw";
import { decodePackBits } from "./packBits";

const SIZES: Record<number, number> = { 1: 1, 2: 1, 3: 2, 4: 4, 5: 8, 6: 1, 7: 1, 8: 2, 9: 4, 10: 8, 11: 4, 12: 8, 13: 4, 16: 8, 17: 8, 18: 8 };
const BIG = 43;

export interface TiffPicture {
  raster: SourceRaster;
  alpha: FileAlpha | null;
  profile: Uint8Array | null;
}

/** Tags of the first directory; values as numbers. @see TIFF 6.0, section 2; the BigTIFF proposal, recalled from memory: counts and places of 8 bytes */
class Directory {
  private readonly tags = new Map<number, { type: number; count: number; at: number }>();
  readonly little: boolean;
  private readonly view: DataView;

  constructor(readonly bytes: Uint8Array) {
    this.view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
    const order = bytes.length > 8 ? this.view.getUint16(0) : 0;
    this.little = order === 0x4949;
    if (!this.little && order !== 0x4d4d) throw new FormatError("damaged", "tiff.none");
    const version = this.view.getUint16(2, this.little);
    if (version !== 42 && version !== BIG) throw new FormatError("damaged", "tiff.none");
    const big = version === BIG;
    if (big && bytes.length < 16) throw cutShort();
    const word = (p: number) => (big ? this.long8(p) : this.view.getUint32(p, this.little));
    const [countBytes, entryBytes, inline] = big ? [8, 20, 8] : [2, 12, 4];
    const at = word(big ? 8 : 4);
    if (at + countBytes > bytes.length) throw cutShort();
    const count = big ? this.long8(at) : this.view.getUint16(at, this.little);
    if (at + countBytes + count * entryBytes > bytes.length) throw cutShort();
    for (let i = 0; i < count; i++) {
      const p = at + countBytes + i * entryBytes;
      const type = this.view.getUint16(p + 2, this.little);
      const n = word(p + 4);
      const size = (SIZES[type] ?? 1) * n;
      const place = size <= inline ? p + 4 + inline : word(p + 4 + inline);
      if (place + size <= bytes.length) this.tags.set(this.view.getUint16(p, this.little), { type, count: n, at: place });
    }
  }

  private long8(p: number): number {
    return Number(this.view.getBigUint64(p, this.little));
  }

  numbers(tag: number, fallback?: number[]): number[] {
    const entry = this.tags.get(tag);
    if (!entry) {
      if (fallback) return fallback;
      throw new FormatError("damaged", message("tiff.missingEntry", { tag }));
    }
    const { type, count, at } = entry;
    const read = (i: number) => {
      if (type === 3) return this.view.getUint16(at + i * 2, this.little);
      if (type === 4 || type === 13) return this.view.getUint32(at + i * 4, this.little);
      if (type === 16 || type === 18) return this.long8(at + i * 8);
      return this.bytes[at + i];
    };
    return Array.from({ length: count }, (_, i) => read(i));
  }

  raw(tag: number): Uint8Array | null {
    const entry = this.tags.get(tag);
    return entry ? this.bytes.slice(entry.at, entry.at + entry.count * (SIZES[entry.type] ?? 1)) : null;
  }
}

function cutShort(): FormatError {
  return new FormatError("damaged", "tiff.damaged");
}

/** Whether the samples are floating point. */
export function isFloatTiff(bytes: Uint8Array): boolean {
  return new Directory(bytes).numbers(339, [1])[0] === 3;
}

/** The embedded ICC profile, without decoding pixels. */
export function readTiffProfile(bytes: Uint8Array): Uint8Array | null {
  return new Directory(bytes).raw(34675);
}

/**
 * Reads the first picture of a TIFF 6.0 or BigTIFF file: grey or RGB, with the alpha that the first further sample is (others are dropped), 8 or 16 bit unsigned, strips or tiles,
 * or 32 bit float,
 * chunky or planar, either byte order; uncompressed, LZW, Deflate or PackBits; predictor 1, 2 or 3.
 * @throws FormatError with one sentence for anything else
 */
export function readTiff(bytes: Uint8Array): TiffPicture {
  const tags = new Directory(bytes);
  const [width] = tags.numbers(256);
  const [height] = tags.numbers(257);
  checkPictureSize(width, height);
  const depths = tags.numbers(258, [1]);
  const [compression] = tags.numbers(259, [1]);
  const [photometric] = tags.numbers(262);
  const [samples] = tags.numbers(277, [1]);
  const [planar] = tags.numbers(284, [1]);
  const [predictor] = tags.numbers(317, [1]);
  const formats = tags.numbers(339, [1]);
  const bits = depths[0] as 8 | 16 | 32;
  if (photometric === 3) throw new FormatError("unsupported", "tiff.palette");
  if (photometric === 5) throw new FormatError("unsupported", "tiff.cmyk");
  if (photometric > 2) throw new FormatError("unsupported", message("tiff.photometric", { photometric }));
  const float = formats[0] === 3;
  const known = float ? bits === 32 : bits === 8 || bits === 16;
  if (formats.some((f) => f !== (float ? 3 : 1)) || !known || depths.some((d) => d !== bits)) {
    throw new FormatError("unsupported", message(float ? "tiff.floatBits" : "tiff.bits", { bits }));
  }
  const colors = photometric === 2 ? 3 : 1;
  if (samples < colors || samples > 8) throw new FormatError("damaged", message("tiff.samples", { samples }));
  if (predictor > 3 || (predictor === 3) !== (float && predictor !== 1)) throw new FormatError("unsupported", message("tiff.predictor", { predictor }));

  const tiled = tags.raw(324) !== null;
  const offsets = tags.numbers(tiled ? 324 : 273);
  const counts = tags.numbers(tiled ? 325 : 279);
  const blockWidth = tiled ? tags.numbers(322)[0] : width;
  const blockHeight = tiled ? tags.numbers(323)[0] : Math.min(height, tags.numbers(278, [height])[0]);
  if (!(blockWidth > 0 && blockHeight > 0 && blockWidth <= 65536 && blockWidth * blockHeight <= LIMITS.pixels)) throw cutShort();
  const across = Math.ceil(width / blockWidth);
  const down = Math.ceil(height / blockHeight);
  const inBlock = planar === 2 ? 1 : samples;
  const planes = planar === 2 ? samples : 1;
  if (offsets.length < across * down * planes || counts.length < offsets.length) throw cutShort();

  const length = width * height * 3;
  const data = bits === 8 ? roomFor(Uint8Array, length) : bits === 16 ? roomFor(Uint16Array, length) : roomFor(Float32Array, length);
  const sampleBytes = bits / 8;
  // 0: a sample that is not explained, 1: alpha that colours are multiplied by, 2: alpha beside them (TIFF 6.0, section 18)
  const [extra] = samples > colors ? tags.numbers(338, [0]) : [];
  const alpha: FileAlpha | null = extra === undefined || extra > 2 ? null : { samples: new Uint16Array(width * height), says: SAYS[extra] };
  for (let plane = 0; plane < Math.min(planes, colors + (alpha ? 1 : 0)); plane++) {
    for (let by = 0; by < down; by++) {
      for (let bx = 0; bx < across; bx++) {
        const index = (plane * down + by) * across + bx;
        const rows = tiled ? blockHeight : Math.min(blockHeight, height - by * blockHeight);
        const needed = blockWidth * rows * inBlock * sampleBytes;
        if (offsets[index] + counts[index] > bytes.length) throw cutShort();
        const packed = unpack(bytes.subarray(offsets[index], offsets[index] + counts[index]), compression, needed);
        if (packed.length < needed) throw cutShort();
        const values = predictor === 3 ? undoFloatPredictor(packed, blockWidth, rows, inBlock) : samplesOf(packed, bits, tags.little, needed / sampleBytes);
        if (predictor === 2) undoDifference(values, blockWidth, rows, inBlock, bits);
        const block = { x0: bx * blockWidth, y0: by * blockHeight, blockWidth, rows, inBlock, width, height, colors };
        if (plane < colors) copyBlock(values, data, { ...block, plane: planar === 2 ? plane : -1 });
        if (alpha && (planar !== 2 || plane === colors)) copyAlpha(values, bits, alpha.samples, { ...block, first: planar === 2 ? 0 : colors });
      }
    }
  }
  if (photometric === 0) for (let i = 0; i < data.length; i++) data[i] = (bits === 8 ? 255 : bits === 16 ? 65535 : 1) - data[i];
  return { raster: { width, height, bits, data }, alpha, profile: tags.raw(34675) };
}

const SAYS = [null, "multiplied", "straight"] as const;

function unpack(block: Uint8Array, compression: number, needed: number): Uint8Array {
  if (compression === 1) return block;
  if (compression === 5) return decodeLzw(block, needed);
  if (compression === 32773) return decodePackBits(block, needed);
  if (compression === 8 || compression === 32946) {
    let whole: Uint8Array;
    try {
      whole = inflateWhole(block, 2 * needed + SPARE);
    } catch {
      throw cutShort();
    }
    if (whole.length < needed) throw cutShort();
    return whole.subarray(0, needed);
  }
  throw new FormatError("unsupported", message("tiff.compression", { compression }));
}

/** The last block may be written whole where the picture ends within it: so much more than is needed is let pass, and left out. */
const SPARE = 1 << 16;

type TiffSamples = Uint8Array | Uint16Array | Float32Array;

/**
 * Floating point predictor: each row holds its samples' bytes sorted by significance, differenced byte by byte.
 * @see Adobe Photoshop TIFF technical note 3, 2005 (predictor 3)
 */
function undoFloatPredictor(block: Uint8Array, width: number, rows: number, samples: number): Float32Array {
  const n = width * samples;
  const out = new Float32Array(n * rows);
  const view = new DataView(new ArrayBuffer(4));
  for (let y = 0; y < rows; y++) {
    const row = block.slice(y * n * 4, (y + 1) * n * 4);
    for (let i = samples; i < row.length; i++) row[i] = (row[i] + row[i - samples]) & 255;
    for (let x = 0; x < n; x++) {
      for (let b = 0; b < 4; b++) view.setUint8(b, row[b * n + x]);
      out[y * n + x] = view.getFloat32(0);
    }
  }
  return out;
}

function samplesOf(block: Uint8Array, bits: number, little: boolean, count: number): TiffSamples {
  if (bits === 8) return block.slice(0, count);
  if (bits === 32) {
    const view = new DataView(block.buffer, block.byteOffset, block.byteLength);
    return Float32Array.from({ length: count }, (_, i) => view.getFloat32(i * 4, little));
  }
  const out = new Uint16Array(count);
  for (let i = 0; i < count; i++) out[i] = little ? block[2 * i] | (block[2 * i + 1] << 8) : (block[2 * i] << 8) | block[2 * i + 1];
  return out;
}

function undoDifference(v: TiffSamples, width: number, rows: number, samples: number, bits: number): void {
  const mask = bits === 8 ? 255 : 65535;
  for (let y = 0; y < rows; y++) {
    const row = y * width * samples;
    for (let i = samples; i < width * samples; i++) v[row + i] = (v[row + i] + v[row + i - samples]) & mask;
  }
}

/** Where an unpacked block lies in the picture, and how many samples of a px are in it. */
interface Block {
  x0: number;
  y0: number;
  blockWidth: number;
  rows: number;
  inBlock: number;
  width: number;
  height: number;
  colors: number;
}

function copyAlpha(v: TiffSamples, bits: number, out: Uint16Array, b: Block & { first: number }): void {
  const scale = bits === 8 ? 257 : bits === 16 ? 1 : 65_535;
  for (let y = 0; y < b.rows && b.y0 + y < b.height; y++) {
    for (let x = 0; x < b.blockWidth && b.x0 + x < b.width; x++) {
      const a = scale * v[(y * b.blockWidth + x) * b.inBlock + b.first];
      out[(b.y0 + y) * b.width + b.x0 + x] = Math.min(65_535, Math.max(0, Math.round(a))) || 0;
    }
  }
}

function copyBlock(v: TiffSamples, out: TiffSamples, b: Block & { plane: number }): void {
  for (let y = 0; y < b.rows && b.y0 + y < b.height; y++) {
    for (let x = 0; x < b.blockWidth && b.x0 + x < b.width; x++) {
      const from = (y * b.blockWidth + x) * b.inBlock;
      const to = ((b.y0 + y) * b.width + b.x0 + x) * 3;
      if (b.plane >= 0 && b.colors === 3) out[to + b.plane] = v[from];
      else if (b.colors === 3) {
        out[to] = v[from];
        out[to + 1] = v[from + 1];
        out[to + 2] = v[from + 2];
      } else out[to] = out[to + 1] = out[to + 2] = v[from];
    }
  }
}
