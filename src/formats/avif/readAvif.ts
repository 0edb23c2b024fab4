import type { SourceRaster } from "../../core/raster/raster";
import { viewOf } from "../bytes";
import { checkPictureSize, FormatError } from "../formatError";
import { takeAlpha, type FileAlpha } from "../takeAlpha";
import { decodeStill, type StillDecoder } from "../stillDecoder";

/** Colour by numbers. @see ITU-T H.273: colour primaries and transfer characteristics */
export interface CodedColor {
  primaries: number;
  transfer: number;
}
export interface AvifFacts {
  width: number;
  height: number;
  /** bits per sample of the stored picture */
  depth: number;
  profile: Uint8Array | null;
  coded: CodedColor | null;
  /** the EXIF orientation (1 to 8) that the container's own turn and mirror come to */
  orientation: number;
}

interface Box {
  name: string;
  data: Uint8Array;
}

const damaged = () => new FormatError("damaged", "avif.damaged");
const text = (bytes: Uint8Array, at: number) => String.fromCharCode(...bytes.subarray(at, at + 4));

export function isAvif(bytes: Uint8Array): boolean {
  if (bytes.length < 16 || text(bytes, 4) !== "ftyp") return false;
  const size = Math.min(viewOf(bytes).getUint32(0), bytes.length, 256);
  for (let p = 8; p + 4 <= size; p += 4) if (text(bytes, p) === "avif" || text(bytes, p) === "avis") return true;
  return false;
}

/** @see ISO/IEC 14496-12, 4.2 (box header) */
function boxesOf(bytes: Uint8Array): Box[] {
  const view = viewOf(bytes);
  const boxes: Box[] = [];
  for (let p = 0; p + 8 <= bytes.length;) {
    let size = view.getUint32(p);
    let head = 8;
    if (size === 1 && p + 16 <= bytes.length) {
      size = Number(view.getBigUint64(p + 8));
      head = 16;
    }
    if (size === 0) size = bytes.length - p;
    if (size < head || p + size > bytes.length) throw damaged();
    boxes.push({ name: text(bytes, p + 4), data: bytes.subarray(p + head, p + size) });
    p += size;
  }
  return boxes;
}

/**
 * What the container says of its primary picture. @see ISO/IEC 23008-12, 6.5 (item properties), 9.3 (ipma); AV1 Image File Format 1.1
 * @throws FormatError where it is damaged
 */
export function readAvifFacts(bytes: Uint8Array): AvifFacts {
  const find = (boxes: Box[], name: string) => {
    const box = boxes.find((b) => b.name === name);
    if (!box) throw damaged();
    return box.data;
  };
  try {
    const meta = boxesOf(find(boxesOf(bytes), "meta").subarray(4));
    const primary = find(meta, "pitm");
    const primaryId = primary[0] === 0 ? viewOf(primary).getUint16(4) : viewOf(primary).getUint32(4);
    const iprp = boxesOf(find(meta, "iprp"));
    const properties = boxesOf(find(iprp, "ipco"));
    const mine = associations(find(iprp, "ipma"), primaryId).flatMap((index) => properties[index - 1] ?? []);
    const facts: AvifFacts = { width: 0, height: 0, depth: 8, profile: null, coded: null, orientation: 1 };
    let turns = 0;
    let mirror: 0 | 1 | null = null;
    for (const { name, data } of mine) {
      const view = viewOf(data);
      if (name === "ispe") Object.assign(facts, { width: view.getUint32(4), height: view.getUint32(8) });
      if (name === "av1C") facts.depth = data[2] & HIGH_DEPTH ? (data[2] & TWELVE_BIT ? 12 : 10) : 8;
      if (name === "irot") turns = data[0] & 3;
      if (name === "imir") mirror = (data[0] & 1) as 0 | 1;
      if (name !== "colr") continue;
      if (text(data, 0) === "nclx") facts.coded = { primaries: view.getUint16(4), transfer: view.getUint16(6) };
      else facts.profile = data.slice(4);
    }
    facts.orientation = orientationOf(turns, mirror);
    return facts;
  } catch (error) {
    throw error instanceof RangeError ? damaged() : error;
  }
}

/** Bits of the codec configuration's third byte. @see AV1 Codec ISO Media File Format Binding, 2.3.3 */
const HIGH_DEPTH = 0x40;
const TWELVE_BIT = 0x20;

/** Indices (from 1) of the properties of one item. */
function associations(ipma: Uint8Array, item: number): number[] {
  const view = viewOf(ipma);
  const wideIds = ipma[0] >= 1;
  const wideIndex = (ipma[3] & 1) === 1;
  let p = 8;
  for (let n = view.getUint32(4); n > 0; n--) {
    const id = wideIds ? view.getUint32(p) : view.getUint16(p);
    p += wideIds ? 4 : 2;
    const count = view.getUint8(p++);
    const indices = Array.from({ length: count }, (_, k) => (wideIndex ? view.getUint16(p + k * 2) & 0x7fff : view.getUint8(p + k) & 0x7f));
    if (id === item) return indices;
    p += count * (wideIndex ? 2 : 1);
  }
  return [];
}

/** The container turns anticlockwise first, then mirrors about a vertical (0: top becomes bottom) or horizontal axis (1: left becomes right). */
function orientationOf(turns: number, mirror: 0 | 1 | null): number {
  if (mirror === null) return [1, 8, 3, 6][turns];
  return mirror === 0 ? [4, 5, 2, 7][turns] : [2, 7, 4, 5][turns];
}

/** @returns interleaved RGB as stored, and alpha; 8 bit, or 16 where it holds more @throws FormatError */
export async function readAvif(
  bytes: Uint8Array,
  start: () => Promise<StillDecoder>,
): Promise<{ raster: SourceRaster; alpha: FileAlpha | null; facts: AvifFacts }> {
  const facts = readAvifFacts(bytes);
  checkPictureSize(facts.width, facts.height);
  const picture = decodeStill(await start(), bytes, facts.depth > 8 ? 16 : 8);
  if (!picture || picture.width !== facts.width || picture.height !== facts.height) throw damaged();
  return { ...takeAlpha(picture), facts };
}
