import { message } from "../../messages/message";
import { Inflate } from "fflate";
import { viewOf } from "../bytes";
import { FormatError, LIMITS } from "../formatError";
import { crc32 } from "./crc32";

/** Bytes that can be read in pieces: a Blob, a file or memory. */
export interface RandomBytes {
  size: number;
  read(at: number, length: number): Promise<Uint8Array>;
}

export function bytesInMemory(bytes: Uint8Array): RandomBytes {
  return { size: bytes.length, read: async (at, length) => bytes.subarray(at, at + length) };
}

export interface ZipEntry {
  name: string;
  size: number;
  read(): Promise<Uint8Array>;
}

const damaged = () => new FormatError("damaged", "zip.damaged");
/** Flag of entries whose sizes were not known when they were begun. */
const SIZES_BEHIND = 8;
const MAX_ENTRIES = 4096;
const MAX_TOTAL = 16_000_000_000;
const MAX_RATIO = 200;

/**
 * Reads a zip's directory. Names that climb out, sizes over the limits and entries that grow beyond what they state are refused.
 * @throws FormatError with one sentence
 */
export async function readZip(source: RandomBytes): Promise<ZipEntry[]> {
  const tailLength = Math.min(source.size, 65557);
  const tail = await source.read(source.size - tailLength, tailLength);
  const view = new DataView(tail.buffer, tail.byteOffset, tail.byteLength);
  let end = tail.length - 22;
  while (end >= 0 && view.getUint32(end, true) !== 0x06054b50) end--;
  if (end < 0) throw damaged();
  let count = view.getUint16(end + 10, true);
  let size = view.getUint32(end + 12, true);
  let start = view.getUint32(end + 16, true);
  if (start === 0xffffffff && end >= 20 && view.getUint32(end - 20, true) === 0x07064b50) {
    const at = Number(view.getBigUint64(end - 12, true));
    const far = await source.read(at, 56);
    if (far.length < 56) throw damaged();
    const v = new DataView(far.buffer, far.byteOffset, 56);
    count = Number(v.getBigUint64(32, true));
    size = Number(v.getBigUint64(40, true));
    start = Number(v.getBigUint64(48, true));
  }
  if (count > MAX_ENTRIES || size > 8_000_000) throw new FormatError("hostile", message("zip.entries", { count, most: MAX_ENTRIES }));
  if (start + size > source.size) throw damaged();
  const directory = await source.read(start, size);
  return parseDirectory(directory, count, source);
}

/**
 * The entries of a zip that has lost its directory, such as one that was cut short: those that stand whole one after the other from its beginning on.
 * @see APPNOTE.TXT 4.3.7: sizes stand before each entry unless it was written without knowing them
 */
export async function readEntriesInOrder(source: RandomBytes): Promise<ZipEntry[]> {
  const entries: ZipEntry[] = [];
  for (let at = 0; entries.length < MAX_ENTRIES;) {
    const header = await source.read(at, 30);
    const view = viewOf(header);
    if (header.length < 30 || view.getUint32(0, true) !== 0x04034b50 || view.getUint16(6, true) & SIZES_BEHIND) break;
    const [method, crc, packed, size] = [view.getUint16(8, true), view.getUint32(14, true), view.getUint32(18, true), view.getUint32(22, true)];
    const nameBytes = await source.read(at + 30, view.getUint16(26, true));
    const end = at + 30 + view.getUint16(26, true) + view.getUint16(28, true) + packed;
    if (method !== 0 || packed !== size || end > source.size) break;
    const name = new TextDecoder().decode(nameBytes);
    checkName(name);
    const offset = at;
    entries.push({ name, size, read: () => readEntry(source, { name, method, crc, packed, size, offset }) });
    at = end;
  }
  return entries;
}

function parseDirectory(bytes: Uint8Array, count: number, source: RandomBytes): ZipEntry[] {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const entries: ZipEntry[] = [];
  let p = 0;
  let total = 0;
  for (let i = 0; i < count; i++) {
    if (p + 46 > bytes.length || view.getUint32(p, true) !== 0x02014b50) throw damaged();
    const method = view.getUint16(p + 10, true);
    const crc = view.getUint32(p + 16, true);
    const packed = view.getUint32(p + 20, true);
    const size = view.getUint32(p + 24, true);
    const nameLength = view.getUint16(p + 28, true);
    const extraLength = view.getUint16(p + 30, true);
    let offset = view.getUint32(p + 42, true);
    if (p + 46 + nameLength + extraLength > bytes.length) throw damaged();
    const name = new TextDecoder().decode(bytes.subarray(p + 46, p + 46 + nameLength));
    if (offset === 0xffffffff && extraLength >= 12) offset = Number(view.getBigUint64(p + 46 + nameLength + 4, true));
    checkName(name);
    total += size;
    if (size > LIMITS.fileBytes || total > MAX_TOTAL || (method === 8 && size > Math.max(1_000_000, packed * MAX_RATIO))) {
      throw new FormatError("hostile", message("zip.size", { mb: (size / 1e6).toFixed(0), name }));
    }
    if (method !== 0 && method !== 8) throw new FormatError("unsupported", message("zip.compression", { name, method }));
    if (method === 0 && packed !== size) throw damaged();
    entries.push({ name, size, read: () => readEntry(source, { name, method, crc, packed, size, offset }) });
    p += 46 + nameLength + extraLength + view.getUint16(p + 32, true);
  }
  return entries;
}

function checkName(name: string): void {
  if (name.startsWith("/") || name.includes("\\") || name.includes("\0") || /^[a-z]:/i.test(name) || name.split("/").includes("..")) {
    throw new FormatError("hostile", message("zip.climbsOut", { name: name.slice(0, 60) }));
  }
}

async function readEntry(
  source: RandomBytes,
  e: { name: string; method: number; crc: number; packed: number; size: number; offset: number },
): Promise<Uint8Array> {
  const header = await source.read(e.offset, 30);
  if (header.length < 30) throw damaged();
  const view = new DataView(header.buffer, header.byteOffset, 30);
  if (view.getUint32(0, true) !== 0x04034b50) throw damaged();
  const at = e.offset + 30 + view.getUint16(26, true) + view.getUint16(28, true);
  const packed = await source.read(at, e.packed);
  if (packed.length !== e.packed) throw damaged();
  const bytes = e.method === 0 ? packed : inflateBounded(packed, e.size);
  if (bytes.length !== e.size || crc32(bytes) !== e.crc) throw new FormatError("damaged", message("zip.checksum", { name: e.name }));
  return bytes;
}

/** Inflates in pieces and stops as soon as more comes out than was stated. */
function inflateBounded(packed: Uint8Array, size: number): Uint8Array {
  const out = new Uint8Array(size);
  let at = 0;
  const inflate = new Inflate((chunk) => {
    if (at + chunk.length > size) throw new FormatError("hostile", "zip.holdsMore");
    out.set(chunk, at);
    at += chunk.length;
  });
  const piece = 1 << 16;
  try {
    for (let p = 0; p < packed.length; p += piece) inflate.push(packed.subarray(p, p + piece), p + piece >= packed.length);
  } catch (error) {
    if (error instanceof FormatError) throw error;
    throw damaged();
  }
  return out.subarray(0, at);
}
