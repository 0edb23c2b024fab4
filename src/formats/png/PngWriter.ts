import { Zlib, zlibSync } from "fflate";
import { crc32 } from "../archive/crc32";
import { asciiBytes, concatBytes } from "../bytes";
import { buildIfd, type IfdEntry } from "../tiff/ifd";

export interface PngOptions {
  width: number;
  height: number;
  /** entries to keep, from survivingExif */
  metadata: IfdEntry[];
  profile: Uint8Array | null;
}

const SIGNATURE = Uint8Array.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]);
/** Each sample as its difference from the one to the left. */
const SUB = 1;
const PIXEL_BYTES = 6;

/** Writes a 16-bit RGB PNG row by row. @see W3C Portable Network Graphics (PNG) Specification, third edition */
export class PngWriter {
  private readonly parts: Uint8Array[] = [];
  private readonly packer: Zlib;
  private packed: Uint8Array[] = [];
  private rowsWritten = 0;

  constructor(private readonly options: PngOptions) {
    const { width, height, metadata, profile } = options;
    const header = new Uint8Array(13);
    const view = new DataView(header.buffer);
    view.setUint32(0, width);
    view.setUint32(4, height);
    header.set([16, 2, 0, 0, 0], 8);
    this.parts.push(SIGNATURE, chunk("IHDR", header));
    if (profile) this.parts.push(chunk("iCCP", concatBytes([asciiBytes("profile\0\0"), zlibSync(profile)])));
    const tiff = Uint8Array.from([0x49, 0x49, 0x2a, 0, 8, 0, 0, 0]);
    this.parts.push(chunk("eXIf", concatBytes([tiff, buildIfd(metadata, 8)])));
    this.packer = new Zlib({ level: 3 }, (data) => this.packed.push(data));
  }

  /** @param samples interleaved RGB, whole rows */
  writeRows(samples: Uint16Array): void {
    const perRow = this.options.width * 3;
    if (samples.length % perRow !== 0) throw new RangeError(`Expected whole rows of ${perRow} samples, got ${samples.length}.`);
    const rows = samples.length / perRow;
    const bytes = new Uint8Array(rows * (1 + perRow * 2));
    for (let row = 0, p = 0; row < rows; row++) {
      bytes[p++] = SUB;
      const start = p;
      for (let i = row * perRow; i < (row + 1) * perRow; i++, p += 2) {
        bytes[p] = samples[i] >> 8;
        bytes[p + 1] = samples[i] & 255;
      }
      for (let k = p - 1; k >= start + PIXEL_BYTES; k--) bytes[k] -= bytes[k - PIXEL_BYTES];
    }
    this.rowsWritten += rows;
    this.packer.push(bytes, this.rowsWritten === this.options.height);
    this.flush();
  }

  private flush(): void {
    const data = concatBytes(this.packed);
    this.packed = [];
    if (data.length) this.parts.push(chunk("IDAT", data));
  }

  /** @returns the file in parts, in order */
  finish(): Uint8Array[] {
    if (this.rowsWritten !== this.options.height) throw new RangeError(`Expected ${this.options.height} rows, got ${this.rowsWritten}.`);
    return [...this.parts, chunk("IEND", new Uint8Array(0))];
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
