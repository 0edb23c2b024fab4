import { zlibSync } from "fflate";
import { buildIfd, type IfdEntry } from "./ifd";

export interface TiffOptions {
  width: number;
  height: number;
  /** 16: unsigned, horizontal predictor; 32: IEEE float */
  bits: 16 | 32;
  /** 3 for RGB, 1 for a plane of figures; 3 by default */
  channels?: 1 | 3;
  /** directory entries to keep, from survivingExif */
  metadata: IfdEntry[];
  profile: Uint8Array | null;
}

const ROWS_PER_STRIP = 64;

/** Writes an RGB or one-channel TIFF 6.0 strip by strip, Deflate, little-endian. Rows come in order in any portions. */
export class TiffWriter {
  private readonly parts: Uint8Array[] = [];
  private readonly offsets: number[] = [];
  private readonly counts: number[] = [];
  private at = 8;
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
    const packed = zlibSync(strip, { level: 3 });
    this.offsets.push(this.at);
    this.counts.push(packed.length);
    this.parts.push(packed);
    this.at += packed.length;
    this.rowsWritten += this.pendingRows;
    this.pending = [];
    this.pendingRows = 0;
  }

  /** @returns the file in parts, in order */
  finish(): Uint8Array[] {
    this.flush();
    const { width, height, bits, channels = 3, metadata, profile } = this.options;
    if (this.rowsWritten !== height) throw new RangeError(`Expected ${height} rows, got ${this.rowsWritten}.`);
    if (this.at % 2) {
      this.parts.push(new Uint8Array(1));
      this.at++;
    }
    const short = (tag: number, ...values: number[]): IfdEntry => ({ tag, value: { type: "short", values } });
    const long = (tag: number, ...values: number[]): IfdEntry => ({ tag, value: { type: "long", values } });
    const entries: IfdEntry[] = [
      long(256, width),
      long(257, height),
      short(258, ...Array<number>(channels).fill(bits)),
      short(259, 8),
      short(262, channels === 3 ? 2 : 1),
      short(277, channels),
      long(278, ROWS_PER_STRIP),
      short(284, 1),
      short(317, bits === 16 ? 2 : 1),
      short(339, ...Array<number>(channels).fill(bits === 16 ? 1 : 3)),
      long(273, ...this.offsets),
      long(279, ...this.counts),
      ...metadata,
    ];
    if (profile) entries.push({ tag: 34675, value: { type: "undefined", bytes: profile } });
    const directory = buildIfd(entries, this.at);
    if (this.at + directory.length > 0xffffffff) throw new RangeError("The file would be over 4 GB.");
    const header = new Uint8Array(8);
    const view = new DataView(header.buffer);
    view.setUint16(0, 0x4949);
    view.setUint16(2, 42, true);
    view.setUint32(4, this.at, true);
    return [header, ...this.parts, directory];
  }
}
