import { FormatError } from "../formatError";
import { crc32 } from "./crc32";

interface Entry {
  name: Uint8Array;
  crc: number;
  size: number;
  offset: number;
}

const LIMIT_32 = 0xffffffff;

/** Writes a zip of stored entries, piece by piece; zip64 where sizes or offsets need it. @see APPNOTE.TXT 6.3.10, ISO/IEC 21320-1 */
export class ZipWriter {
  private readonly entries: Entry[] = [];
  private offset = 0;

  constructor(private readonly emit: (bytes: Uint8Array) => void) {}

  add(name: string, bytes: Uint8Array): void {
    const entry: Entry = { name: new TextEncoder().encode(name), crc: crc32(bytes), size: bytes.length, offset: this.offset };
    const header = new Uint8Array(30);
    const view = new DataView(header.buffer);
    view.setUint32(0, 0x04034b50, true);
    this.common(view, 4, entry);
    this.entries.push(entry);
    for (const part of [header, entry.name, bytes]) this.put(part);
  }

  finish(): void {
    const start = this.offset;
    for (const entry of this.entries) {
      const far = entry.offset >= LIMIT_32;
      const extra = new Uint8Array(far ? 12 : 0);
      if (far) {
        const e = new DataView(extra.buffer);
        e.setUint16(0, 1, true);
        e.setUint16(2, 8, true);
        e.setBigUint64(4, BigInt(entry.offset), true);
      }
      const header = new Uint8Array(46);
      const view = new DataView(header.buffer);
      view.setUint32(0, 0x02014b50, true);
      view.setUint16(4, 45, true);
      this.common(view, 6, entry);
      view.setUint16(30, extra.length, true);
      view.setUint32(42, far ? LIMIT_32 : entry.offset, true);
      for (const part of [header, entry.name, extra]) this.put(part);
    }
    this.putEnd(start, this.offset - start);
  }

  /** The fields that local and central headers share, from "version needed" to the name's length. */
  private common(view: DataView, at: number, entry: Entry): void {
    if (entry.size >= LIMIT_32) throw new FormatError("limit", "zip.entryOver4Gb");
    view.setUint16(at, 45, true);
    view.setUint16(at + 2, 0x0800, true);
    view.setUint16(at + 8, 0x21, true);
    view.setUint32(at + 10, entry.crc, true);
    view.setUint32(at + 14, entry.size, true);
    view.setUint32(at + 18, entry.size, true);
    view.setUint16(at + 22, entry.name.length, true);
  }

  private putEnd(start: number, size: number): void {
    if (start >= LIMIT_32) {
      const far = new Uint8Array(76);
      const v = new DataView(far.buffer);
      v.setUint32(0, 0x06064b50, true);
      v.setBigUint64(4, 44n, true);
      v.setUint16(12, 45, true);
      v.setUint16(14, 45, true);
      v.setBigUint64(24, BigInt(this.entries.length), true);
      v.setBigUint64(32, BigInt(this.entries.length), true);
      v.setBigUint64(40, BigInt(size), true);
      v.setBigUint64(48, BigInt(start), true);
      v.setUint32(56, 0x07064b50, true);
      v.setBigUint64(64, BigInt(this.offset), true);
      v.setUint32(72, 1, true);
      this.put(far);
    }
    const end = new Uint8Array(22);
    const view = new DataView(end.buffer);
    view.setUint32(0, 0x06054b50, true);
    view.setUint16(8, this.entries.length, true);
    view.setUint16(10, this.entries.length, true);
    view.setUint32(12, size, true);
    view.setUint32(16, Math.min(LIMIT_32, start), true);
    this.put(end);
  }

  private put(bytes: Uint8Array): void {
    if (bytes.length === 0) return;
    this.emit(bytes);
    this.offset += bytes.length;
  }
}
