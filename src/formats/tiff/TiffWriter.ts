import { FormatError } from "../formatError";
import { zlibSync } from "fflate";
import { buildIfd, type IfdEntry } from "./ifd";

export interface TiffOptions {
  width: number;
  height: number;
  /** 16: unsigned, horizontal predictor; 32: IEEE float */
  bits: 16 | 32;
  /** 3 for RGB, 4 for RGB with alpha that it is not multiplied by, 1 for a plane of figures; 3 by default */
  channels?: 1 | 3 | 4;
  /** directory entries to keep, from survivingExif */
  metadata: IfdEntry[];
  profile: Uint8Array | null;
  /** packs a strip as a zlib stream, perhaps elsewhere; here where it is left out */
  pack?: (strip: Uint8Array) => Promise<Uint8Array>;
}

const ROWS_PER_STRIP = 64;
const HEADER_BYTES = 8;
/** How hard strips are packed. */
export const DEFLATE_LEVEL = 3;

/** Writes an RGB, RGBA or one-channel TIFF 6.0 strip by strip, Deflate, little-endian. Rows come in order in any portions. */
export class TiffWriter {
  private readonly strips: (Uint8Array | Promise<Uint8Array>)[] = [];
  private pending: Uint8Array[] = [];
  private pendingRows = 0;
  private rowsWritten = 0;

  constructor(private readonly options: TiffOptions) {}

  /** @param samples interleaved, whole rows; Uint16Array for 16 bit, Float32Array for 32 */
  writeRows(samples: Uint16Array | Float32Array): void {
    const { width, bits, channels = 3 } = this.options;
    const perRow = width * channels;
    if (samples.length % perRow !== 0) throw new RangeError(`Expected whole rows of ${perRow} samples, got ${samples.length}.`);
    for (let row = 0; row * perRow < samples.length; row++) {
      const line = samples.slice(row * perRow, (row + 1) * perRow);
      if (bits === 16) for (let i = perRow - 1; i >= channels; i--) line[i] = (line[i] - line[i - channels]) & 0xffff;
      this.pending.push(new Uint8Array(line.buffer));
      this.pendingRows++;
      if (this.pendingRows === ROWS_PER_STRIP) this.flush();
    }
  }

  private flush(): void {
    if (this.pendingRows === 0) return;
    const strip = new Uint8Array(this.pending.reduce((sum, p) => sum + p.length, 0));
    let at = 0;
    for (const line of this.pending) {
      strip.set(line, at);
      at += line.length;
    }
    this.strips.push(this.options.pack ? this.options.pack(strip) : zlibSync(strip, { level: DEFLATE_LEVEL }));
    this.rowsWritten += this.pendingRows;
    this.pending = [];
    this.pendingRows = 0;
  }

  /** Waits until at most so many strips are still being packed. */
  async settle(most = 0): Promise<void> {
    if (most === 0) this.flush();
    for (let i = 0; i < this.strips.length - most; i++) this.strips[i] = await this.strips[i];
  }

  /** Where strips are packed elsewhere, after they have settled. @returns the file in parts, in order */
  finish(): Uint8Array[] {
    this.flush();
    const strips = this.strips.map((strip) => {
      if (strip instanceof Promise) throw new Error("The strips have not settled.");
      return strip;
    });
    let at = HEADER_BYTES;
    const offsets = strips.map((strip) => (at += strip.length) - strip.length);
    const parts = [...strips];
    const { width, height, bits, channels = 3, metadata, profile } = this.options;
    if (this.rowsWritten !== height) throw new RangeError(`Expected ${height} rows, got ${this.rowsWritten}.`);
    if (at % 2) {
      parts.push(new Uint8Array(1));
      at++;
    }
    const short = (tag: number, ...values: number[]): IfdEntry => ({ tag, value: { type: "short", values } });
    const long = (tag: number, ...values: number[]): IfdEntry => ({ tag, value: { type: "long", values } });
    const entries: IfdEntry[] = [
      long(256, width),
      long(257, height),
      short(258, ...Array<number>(channels).fill(bits)),
      short(259, 8),
      short(262, channels === 1 ? 1 : 2),
      short(277, channels),
      long(278, ROWS_PER_STRIP),
      short(284, 1),
      short(317, bits === 16 ? 2 : 1),
      // 2: alpha that colours are not multiplied by (TIFF 6.0, section 18)
      ...(channels === 4 ? [short(338, 2)] : []),
      short(339, ...Array<number>(channels).fill(bits === 16 ? 1 : 3)),
      long(273, ...offsets),
      long(279, ...strips.map((strip) => strip.length)),
      ...metadata,
    ];
    if (profile) entries.push({ tag: 34675, value: { type: "undefined", bytes: profile } });
    const directory = buildIfd(entries, at);
    if (at + directory.length > 0xffffffff) throw new FormatError("limit", "file.over4Gb");
    const header = new Uint8Array(HEADER_BYTES);
    const view = new DataView(header.buffer);
    view.setUint16(0, 0x4949);
    view.setUint16(2, 42, true);
    view.setUint32(4, at, true);
    return [header, ...parts, directory];
  }
}
