import { message, type Message } from "../../messages/message";
import type { Primaries } from "../../core/color/primaries";
import { roomFor } from "../../core/raster/largeSamples";
import type { SourceRaster } from "../../core/raster/raster";
import { viewOf } from "../bytes";
import { checkPictureSize } from "../formatError";
import type { FileAlpha } from "../takeAlpha";
import { CHUNK_ROWS, damagedExr, KIND_BYTES, pickPicture, readExrHeader, type ExrHeader, type ExrPart, type Picked } from "./exrHeader";
import { unpackChunk, type ChunkLayout, type ChunkSamples } from "./unpackChunk";

/** Chunks of one part; tiles of less than 6×6 px would be more. */
const MOST_CHUNKS = 4_000_000;

/** Primaries that the file names, or null for those of Rec. 709. @throws FormatError */
export function readExrPrimaries(bytes: Uint8Array): Primaries | null {
  return pickPicture(readExrHeader(bytes)).part.primaries;
}

/**
 * Reads an OpenEXR picture: scanlines or tiles (the largest level), one part or several (the first that is a picture), half, float or whole numbers,
 * packed in any way but DWA. Every chunk has to be there, once. What is not a number or infinite is left as it is. Colours are multiplied by alpha where
 * there is one. @returns interleaved linear floats @throws FormatError with one sentence
 */
export function readExr(bytes: Uint8Array): { raster: SourceRaster; alpha: FileAlpha | null; notes: Message[] } {
  const header = readExrHeader(bytes);
  const picked = pickPicture(header);
  const { part } = picked;
  const { width, height } = part.dataWindow;
  checkPictureSize(width, height);
  const chunks = placesOf(part);
  const offsets = offsetsOf(bytes, header, picked.index, chunks);
  const found = chunks.map((chunk, i) => dataOf(bytes, offsets[i], chunk, header.multipart ? picked.index : null));
  const data = roomFor(Float32Array, width * height * 3);
  const colors = [...new Set(picked.channels)];
  const alpha: FileAlpha | null = picked.alpha === null ? null : { samples: new Uint16Array(width * height), says: "multiplied" };
  chunks.forEach((chunk, i) => {
    const layout = layoutOf(part, chunk);
    const samples = unpackChunk(found[i], part.compression, layout);
    for (const color of colors) place(samples[color], color, chunk, picked, data);
    if (alpha) placeAlpha(samples[picked.alpha!], chunk, picked, alpha.samples);
  });
  return { raster: { width, height, bits: 32, data }, alpha, notes: notesOf(header, picked) };
}

/** A chunk's place in the picture, half-open, from its upper left. */
interface Place {
  x: number;
  y: number;
  width: number;
  height: number;
  /** as the file numbers it: the first row, or column and row of the tile */
  named: number[];
}

/** Chunks of the largest level, in the order of the table. */
function placesOf({ dataWindow, tiles, compression }: ExrPart): Place[] {
  const { y0, width, height } = dataWindow;
  const places: Place[] = [];
  if (!tiles) {
    const rows = CHUNK_ROWS[compression];
    for (let y = 0; y < height; y += rows) places.push({ x: 0, y, width, height: Math.min(rows, height - y), named: [y0 + y] });
    return places;
  }
  if (Math.ceil(width / tiles.width) * Math.ceil(height / tiles.height) > MOST_CHUNKS) throw damagedExr("exr.smallTiles");
  for (let row = 0; row * tiles.height < height; row++) {
    for (let column = 0; column * tiles.width < width; column++) {
      const [x, y] = [column * tiles.width, row * tiles.height];
      places.push({ x, y, width: Math.min(tiles.width, width - x), height: Math.min(tiles.height, height - y), named: [column, row, 0, 0] });
    }
  }
  return places;
}

/** How many chunks the table of a part names. */
function chunkCount(part: ExrPart): number {
  const { dataWindow, tiles, compression, chunkCount: stated } = part;
  checkPictureSize(dataWindow.width, dataWindow.height);
  if (stated !== null) return stated;
  if (!tiles) return Math.ceil(dataWindow.height / CHUNK_ROWS[compression]);
  if (tiles.mode === "one") return Math.ceil(dataWindow.width / tiles.width) * Math.ceil(dataWindow.height / tiles.height);
  const levels = (size: number) => (tiles.roundUp ? Math.ceil(Math.log2(size)) : Math.floor(Math.log2(size))) + 1;
  const sizes = (size: number, n: number) =>
    Array.from({ length: n }, (_, l) => Math.max(1, tiles.roundUp ? Math.ceil(size / 2 ** l) : Math.floor(size / 2 ** l)));
  const across = (n: number) => sizes(dataWindow.width, n).map((w) => Math.ceil(w / tiles.width));
  const down = (n: number) => sizes(dataWindow.height, n).map((h) => Math.ceil(h / tiles.height));
  if (tiles.mode === "mipmap") {
    const n = levels(Math.max(dataWindow.width, dataWindow.height));
    const rows = down(n);
    return across(n).reduce((sum, count, l) => sum + count * rows[l], 0);
  }
  const sum = (values: number[]) => values.reduce((a, b) => a + b, 0);
  return sum(across(levels(dataWindow.width))) * sum(down(levels(dataWindow.height)));
}

/** Where the chunks of one part begin. The tables of all parts and levels have to be whole, and what they name within the file. */
function offsetsOf(bytes: Uint8Array, { parts, end }: ExrHeader, index: number, chunks: Place[]): number[] {
  const counts = parts.map(chunkCount);
  if (counts.some((count) => !(count >= 0 && count <= MOST_CHUNKS)) || counts[index] < chunks.length) throw damagedExr("exr.chunkTable");
  const total = counts.reduce((a, b) => a + b, 0);
  const dataStart = end + 8 * total;
  if (dataStart > bytes.length) throw damagedExr("exr.openChunkTable");
  const view = viewOf(bytes);
  const offset = (i: number) => view.getUint32(end + 8 * i, true) + view.getUint32(end + 8 * i + 4, true) * 2 ** 32;
  for (let i = 0; i < total; i++) if (offset(i) < dataStart || offset(i) + 8 > bytes.length) throw damagedExr("exr.missing");
  const first = counts.slice(0, index).reduce((a, b) => a + b, 0);
  return chunks.map((_, i) => offset(first + i));
}

/** The packed bytes of a chunk, which has to say itself which one it is. @param part number, where the file has several */
function dataOf(bytes: Uint8Array, offset: number, { named }: Place, part: number | null): Uint8Array {
  const view = viewOf(bytes);
  const words = [...(part === null ? [] : [part]), ...named];
  const start = offset + 4 * words.length + 4;
  if (start > bytes.length) throw damagedExr("exr.missing");
  if (words.some((word, i) => view.getInt32(offset + 4 * i, true) !== word)) throw damagedExr("exr.misplaced");
  const size = view.getInt32(start - 4, true);
  if (size < 0 || start + size > bytes.length) throw damagedExr("exr.missing");
  return bytes.subarray(start, start + size);
}

/** Multiples of `step` in [from, from + length). */
const stepsIn = (from: number, length: number, step: number) => Math.floor((from + length - 1) / step) - Math.floor((from - 1) / step);

function layoutOf({ channels, dataWindow }: ExrPart, { x, y, width, height }: Place): ChunkLayout {
  const y0 = dataWindow.y0 + y;
  const held = channels.map((channel) => ({
    channel,
    width: stepsIn(dataWindow.x0 + x, width, channel.xStep),
    height: stepsIn(y0, height, channel.yStep),
  }));
  return { channels: held, y0, rows: height, size: held.reduce((n, c) => n + c.width * c.height * KIND_BYTES[c.channel.kind], 0) };
}

/** Puts one channel of a chunk where it belongs. */
function place(from: ChunkSamples[number], index: number, chunk: Place, picked: Picked, data: Float32Array): void {
  const { width } = picked.part.dataWindow;
  const read = readerOf(picked, index);
  const targets = [0, 1, 2].filter((c) => picked.channels[c] === index);
  for (let y = 0, i = 0; y < chunk.height; y++) {
    for (let x = 0, out = 3 * ((chunk.y + y) * width + chunk.x); x < chunk.width; x++, i++, out += 3) {
      const value = read(from[i]);
      for (const c of targets) data[out + c] = value;
    }
  }
}

function placeAlpha(from: ChunkSamples[number], chunk: Place, picked: Picked, out: Uint16Array): void {
  const { width } = picked.part.dataWindow;
  const read = readerOf(picked, picked.alpha!);
  for (let y = 0, i = 0; y < chunk.height; y++) {
    for (let x = 0, at = (chunk.y + y) * width + chunk.x; x < chunk.width; x++, i++, at++) {
      // what is no number shows nothing
      out[at] = Math.round(65_535 * Math.min(1, Math.max(0, read(from[i]) || 0)));
    }
  }
}

function readerOf({ part }: Picked, index: number): (v: number) => number {
  const { kind } = part.channels[index];
  return kind === "half" ? ofHalf : kind === "float" ? ofFloatBits : (v) => v;
}

const bits = new DataView(new ArrayBuffer(4));
function ofFloatBits(v: number): number {
  bits.setUint32(0, v);
  return bits.getFloat32(0);
}

/** @see IEEE 754, binary16 */
function halfValue(v: number): number {
  const [sign, exponent, fraction] = [v & 0x8000 ? -1 : 1, (v >> 10) & 31, v & 1023];
  if (exponent === 31) return fraction ? NaN : sign * Infinity;
  return sign * (exponent === 0 ? fraction * 2 ** -24 : (1024 + fraction) * 2 ** (exponent - 25));
}
let halves: Float32Array | null = null;
function ofHalf(v: number): number {
  halves ??= Float32Array.from({ length: 65_536 }, (_, i) => halfValue(i));
  return halves[v];
}

function notesOf({ parts }: ExrHeader, { part, layer }: Picked): Message[] {
  const notes: Message[] = [];
  if (parts.length > 1) {
    const held = { parts: parts.length };
    notes.push(part.name ? message("exr.partUsed", { ...held, name: part.name.slice(0, 64) }) : message("exr.firstUsed", held));
  }
  if (layer) notes.push(message("exr.layerUsed", { layer: layer.slice(0, -1).slice(0, 64) }));
  if (part.tiles && part.tiles.mode !== "one") notes.push(message("exr.levelUsed", {}));
  return notes;
}
