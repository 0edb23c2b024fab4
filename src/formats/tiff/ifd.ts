import { asciiBytes } from "../bytes";

export type IfdValue =
  | { type: "short" | "long"; values: number[] }
  | { type: "rational"; values: [numerator: number, denominator: number][] }
  | { type: "ascii"; text: string }
  | { type: "undefined"; bytes: Uint8Array }
  | { type: "ifd"; entries: IfdEntry[] };

export interface IfdEntry {
  tag: number;
  value: IfdValue;
}

const CODE = { short: 3, long: 4, rational: 5, ascii: 2, undefined: 7, ifd: 4 } as const;

/**
 * A TIFF 6.0 image file directory, little-endian, with all that it points to.
 * @param at file offset at which the directory will stand (even)
 */
export function buildIfd(entries: IfdEntry[], at: number): Uint8Array {
  const sorted = [...entries].sort((a, b) => a.tag - b.tag);
  const head = 2 + sorted.length * 12 + 4;
  const chunks: Uint8Array[] = [];
  let offset = at + head;
  const directory = new Uint8Array(head);
  const view = new DataView(directory.buffer);
  view.setUint16(0, sorted.length, true);
  sorted.forEach(({ tag, value }, i) => {
    const p = 2 + i * 12;
    const { bytes, count } = payload(value, offset);
    view.setUint16(p, tag, true);
    view.setUint16(p + 2, CODE[value.type], true);
    view.setUint32(p + 4, count, true);
    if (value.type !== "ifd" && bytes.length <= 4) {
      directory.set(bytes, p + 8);
      return;
    }
    view.setUint32(p + 8, offset, true);
    const padded = bytes.length % 2 ? Uint8Array.from([...bytes, 0]) : bytes;
    chunks.push(padded);
    offset += padded.length;
  });
  const out = new Uint8Array(offset - at);
  out.set(directory);
  let p = head;
  for (const c of chunks) {
    out.set(c, p);
    p += c.length;
  }
  return out;
}

function payload(value: IfdValue, at: number): { bytes: Uint8Array; count: number } {
  if (value.type === "ascii") {
    const bytes = asciiBytes(`${value.text}\0`);
    return { bytes, count: bytes.length };
  }
  if (value.type === "undefined") return { bytes: value.bytes, count: value.bytes.length };
  if (value.type === "ifd") return { bytes: buildIfd(value.entries, at), count: 1 };
  const size = value.type === "short" ? 2 : value.type === "long" ? 4 : 8;
  const bytes = new Uint8Array(value.values.length * size);
  const view = new DataView(bytes.buffer);
  value.values.forEach((v, i) => {
    if (typeof v === "number") {
      if (size === 2) view.setUint16(i * 2, v, true);
      else view.setUint32(i * 4, v, true);
    } else {
      view.setUint32(i * 8, v[0], true);
      view.setUint32(i * 8 + 4, v[1], true);
    }
  });
  return { bytes, count: value.values.length };
}
