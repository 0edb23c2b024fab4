import { zlibSync } from "fflate";
import { crc32 } from "../archive/crc32";
import { asciiBytes, concatBytes } from "../bytes";
import { adler32, deflateBlock, ZLIB_HEADER, zlibTrailer } from "../deflateBlock";
import { buildIfd, type IfdEntry } from "../tiff/ifd";
import { DEFLATE_LEVEL } from "../tiff/TiffWriter";

export interface PngOptions {
  width: number;
  height: number;
  /** 16 by default */
  bits?: 8 | 16;
  /** RGBA in place of RGB, colours not multiplied by alpha */
  hasAlpha?: boolean;
  /** entries to keep, from survivingExif */
  metadata: IfdEntry[];
  profile: Uint8Array | null;
  /** packs a block of the one Deflate stream, perhaps elsewhere; here where it is left out */
  pack?: (block: Uint8Array, last: boolean) => Promise<Uint8Array>;
}

const SIGNATURE = Uint8Array.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]);
/** Each sample as its difference from the one to the left. */
const SUB = 1;

/** Writes an RGB or RGBA PNG row by row. @see W3C Portable Network Graphics (PNG) Specification, third edition */
export class PngWriter {
  private readonly parts: Uint8Array[] = [];
  private readonly blocks: (Uint8Array | Promise<Uint8Array>)[] = [];
  private adler = 1;
  private rowsWritten = 0;

  constructor(private readonly options: PngOptions) {
    const { width, height, bits = 16, hasAlpha, metadata, profile } = options;
    const header = new Uint8Array(13);
    const view = new DataView(header.buffer);
    view.setUint32(0, width);
    view.setUint32(4, height);
    header.set([bits, hasAlpha ? 6 : 2, 0, 0, 0], 8);
    this.parts.push(SIGNATURE, chunk("IHDR", header));
    if (profile) this.parts.push(chunk("iCCP", concatBytes([asciiBytes("profile\0\0"), zlibSync(profile)])));
    const tiff = Uint8Array.from([0x49, 0x49, 0x2a, 0, 8, 0, 0, 0]);
    this.parts.push(chunk("eXIf", concatBytes([tiff, buildIfd(metadata, 8)])));
  }

  /** @param samples interleaved, whole rows; as many bits as the file has */
  writeRows(samples: Uint8Array | Uint16Array): void {
    const { bits = 16, hasAlpha } = this.options;
    const channels = hasAlpha ? 4 : 3;
    const perRow = this.options.width * channels;
    const sampleBytes = bits / 8;
    const pixelBytes = channels * sampleBytes;
    if (samples.length % perRow !== 0) throw new RangeError(`Expected whole rows of ${perRow} samples, got ${samples.length}.`);
    const rows = samples.length / perRow;
    const bytes = new Uint8Array(rows * (1 + perRow * sampleBytes));
    for (let row = 0, p = 0; row < rows; row++) {
      bytes[p++] = SUB;
      const start = p;
      for (let i = row * perRow; i < (row + 1) * perRow; i++) {
        if (bits === 16) bytes[p++] = samples[i] >> 8;
        bytes[p++] = samples[i] & 255;
      }
      for (let k = p - 1; k >= start + pixelBytes; k--) bytes[k] -= bytes[k - pixelBytes];
    }
    this.rowsWritten += rows;
    this.adler = adler32(bytes, this.adler);
    const last = this.rowsWritten === this.options.height;
    this.blocks.push(this.options.pack ? this.options.pack(bytes, last) : deflateBlock(bytes, last, DEFLATE_LEVEL));
  }

  /** Waits until at most so many blocks are still being packed. */
  async settle(most = 0): Promise<void> {
    for (let i = 0; i < this.blocks.length - most; i++) this.blocks[i] = await this.blocks[i];
  }

  /** Where blocks are packed elsewhere, after they have settled. @returns the file in parts, in order */
  finish(): Uint8Array[] {
    if (this.rowsWritten !== this.options.height) throw new RangeError(`Expected ${this.options.height} rows, got ${this.rowsWritten}.`);
    const data = this.blocks.map((block, i) => {
      if (block instanceof Promise) throw new Error("The blocks have not settled.");
      const [first, last] = [i === 0, i === this.blocks.length - 1];
      return chunk("IDAT", concatBytes([...(first ? [ZLIB_HEADER] : []), block, ...(last ? [zlibTrailer(this.adler)] : [])]));
    });
    return [...this.parts, ...data, chunk("IEND", new Uint8Array(0))];
  }
}

function chunk(name: string, data: Uint8Array): Uint8Array {
  const out = new Uint8Array(data.length + 12);
  const view = new DataView(out.buffer);
  view.setUint32(0, data.length);
  out.set(asciiBytes(name), 4);
  out.set(data, 8);
  view.setUint32(data.length + 8, crc32(out.subarray(4, data.length + 8)));
  return out;
}
