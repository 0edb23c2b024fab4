import { message, type Message } from "../../messages/message";
import { roomFor } from "../../core/raster/largeSamples";
import type { SourceRaster } from "../../core/raster/raster";
import { crc32 } from "../archive/crc32";
import { viewOf } from "../bytes";
import { checkPictureSize, FormatError } from "../formatError";
import type { FileAlpha } from "../takeAlpha";
import { inflateParts, inflateWhole, MOST_INFLATED } from "../inflate";

/** Profiles with tables of many colours take a few MB. */
const LARGEST_PROFILE = 32e6;
const SIGNATURE = [0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a];

const damaged = () => new FormatError("damaged", "png.damaged");

interface Chunk {
  type: string;
  data: Uint8Array;
}

/** The chunks up to the end of the picture. Those that matter to pixels have to agree with their sums. @see PNG specification, third edition, 5.3 */
function chunksOf(bytes: Uint8Array, checked: boolean): Chunk[] {
  if (bytes.length < 33 || SIGNATURE.some((v, i) => bytes[i] !== v)) throw new FormatError("damaged", "png.none");
  const view = viewOf(bytes);
  const chunks: Chunk[] = [];
  for (let p = 8; p + 12 <= bytes.length;) {
    const length = view.getUint32(p);
    if (p + 12 + length > bytes.length) break;
    const type = String.fromCharCode(...bytes.subarray(p + 4, p + 8));
    if (checked && crc32(bytes.subarray(p + 4, p + 8 + length)) !== view.getUint32(p + 8 + length)) throw damaged();
    chunks.push({ type, data: bytes.subarray(p + 8, p + 8 + length) });
    if (type === "IEND") return chunks;
    p += 12 + length;
  }
  if (checked) throw damaged();
  return chunks;
}

/** Samples of a pixel by colour type. */
const CHANNELS: Record<number, number> = { 0: 1, 2: 3, 3: 1, 4: 2, 6: 4 };
const DEPTHS: Record<number, number[]> = { 0: [1, 2, 4, 8, 16], 2: [8, 16], 3: [1, 2, 4, 8], 4: [8, 16], 6: [8, 16] };
const PALETTE = 3;

interface Header {
  width: number;
  height: number;
  depth: number;
  colorType: number;
  channels: number;
  interlaced: boolean;
}

function headerOf(chunks: Chunk[]): Header {
  const [first] = chunks;
  if (first?.type !== "IHDR" || first.data.length !== 13) throw damaged();
  const view = viewOf(first.data);
  const [depth, colorType, packing, filtering, interlace] = first.data.subarray(8);
  const [width, height] = [view.getUint32(0), view.getUint32(4)];
  checkPictureSize(width, height);
  if (!DEPTHS[colorType]?.includes(depth) || packing !== 0 || filtering !== 0 || interlace > 1) throw damaged();
  return { width, height, depth, colorType, channels: CHANNELS[colorType], interlaced: interlace === 1 };
}

/** Where the rows of a pass lie. */
interface Pass {
  x: number;
  y: number;
  stepX: number;
  stepY: number;
  columns: number;
  rows: number;
}

/** @see PNG specification, third edition, 8.2 */
const ADAM7 = [
  [0, 0, 8, 8],
  [4, 0, 8, 8],
  [0, 4, 4, 8],
  [2, 0, 4, 4],
  [0, 2, 2, 4],
  [1, 0, 2, 2],
  [0, 1, 1, 2],
];

function passesOf({ width, height, interlaced }: Header): Pass[] {
  const all = interlaced ? ADAM7 : [[0, 0, 1, 1]];
  return all
    .map(([x, y, stepX, stepY]) => ({ x, y, stepX, stepY, columns: Math.ceil((width - x) / stepX), rows: Math.ceil((height - y) / stepY) }))
    .filter((pass) => pass.columns > 0 && pass.rows > 0);
}

/**
 * Reads any still PNG row by row as it unpacks, so that hardly more than the picture is ever held; grey and palettes become RGB, fewer than 8 bits become 8;
 * alpha comes beside them. @see PNG specification, third edition @throws FormatError with one sentence
 */
export function readPng(bytes: Uint8Array): { raster: SourceRaster; alpha: FileAlpha | null; notes: Message[] } {
  const chunks = chunksOf(bytes, true);
  const header = headerOf(chunks);
  const { width, height, depth, colorType } = header;
  const palette = chunks.find((c) => c.type === "PLTE")?.data ?? null;
  if (colorType === PALETTE && (!palette || palette.length % 3 !== 0 || palette.length === 0 || palette.length > 768)) throw damaged();
  const packed = chunks.filter((c) => c.type === "IDAT").map((c) => c.data);
  // before room is made: no stream of so few bytes becomes so many
  if (packed.reduce((n, part) => n + part.length, 0) * MOST_INFLATED < (width * height * header.channels * depth) / 8) throw damaged();
  const data = depth === 16 ? roomFor(Uint16Array, width * height * 3) : roomFor(Uint8Array, width * height * 3);
  const clear = clearOf(header, chunks.find((c) => c.type === "tRNS")?.data ?? null);
  const hasAlpha = clear !== null || colorType === 4 || colorType === 6;
  const alpha = hasAlpha ? new Uint16Array(width * height) : null;
  const rows = new Rows(header, palette, data, alpha, clear);
  try {
    inflateParts(packed, rows.bytes, (portion) => rows.take(portion));
  } catch (error) {
    throw error instanceof FormatError ? error : damaged();
  }
  if (!rows.whole) throw damaged();
  const notes: Message[] = [];
  if (chunks.some((c) => c.type === "acTL")) notes.push(message("png.animation", {}));
  return { raster: { width, height, bits: depth === 16 ? 16 : 8, data }, alpha: alpha && { samples: alpha, says: "straight" }, notes };
}

/** What does not show: alpha of the palette's first colours, or one code for each channel. */
type Clear = { palette: Uint8Array } | { codes: number[] };

/** @see PNG specification, third edition, 11.3.1.1 */
function clearOf({ colorType }: Header, chunk: Uint8Array | null): Clear | null {
  if (!chunk || colorType > PALETTE) return null;
  if (colorType === PALETTE) return { palette: chunk };
  const count = CHANNELS[colorType];
  if (chunk.length < 2 * count) return null;
  const view = viewOf(chunk);
  return { codes: Array.from({ length: count }, (_, i) => view.getUint16(2 * i)) };
}

/** Puts unpacked bytes together to rows, undoes their filters and lays them into the picture. */
class Rows {
  readonly bytes: number;
  private readonly passes: Pass[];
  private readonly step: number;
  private pass = 0;
  private row = 0;
  private current: Uint8Array;
  private before: Uint8Array;
  /** bytes of the row that have come, its filter among them */
  private come = 0;

  constructor(
    private readonly header: Header,
    private readonly palette: Uint8Array | null,
    private readonly data: Uint8Array | Uint16Array,
    private readonly alpha: Uint16Array | null,
    private readonly clear: Clear | null,
  ) {
    this.passes = passesOf(header);
    this.bytes = this.passes.reduce((n, pass) => n + pass.rows * (1 + this.rowBytes(pass)), 0);
    this.step = Math.max(1, (header.channels * header.depth) / 8);
    this.current = new Uint8Array(1 + this.rowBytes(this.passes[0]));
    this.before = new Uint8Array(this.current.length);
  }

  get whole(): boolean {
    return this.pass === this.passes.length;
  }

  private rowBytes({ columns }: Pass): number {
    return Math.ceil((columns * this.header.channels * this.header.depth) / 8);
  }

  take(portion: Uint8Array): void {
    for (let p = 0; p < portion.length && !this.whole;) {
      const count = Math.min(portion.length - p, this.current.length - this.come);
      this.current.set(portion.subarray(p, p + count), this.come);
      this.come += count;
      p += count;
      if (this.come === this.current.length) this.finishRow();
    }
  }

  private finishRow(): void {
    unfilter(this.current, this.before, this.step);
    const pass = this.passes[this.pass];
    this.lay(pass);
    [this.current, this.before] = [this.before, this.current];
    this.come = 0;
    if (++this.row < pass.rows) return;
    this.row = 0;
    if (++this.pass === this.passes.length) return;
    const length = 1 + this.rowBytes(this.passes[this.pass]);
    this.current = new Uint8Array(length);
    this.before = new Uint8Array(length);
  }

  private lay({ x, y, stepX, stepY, columns }: Pass): void {
    const { width, depth, channels } = this.header;
    const { current, data, palette } = this;
    let out = 3 * ((y + this.row * stepY) * width + x);
    const along = 3 * stepX;
    const colors = channels >= 3;
    for (let i = 0; i < columns; i++, out += along) {
      if (depth === 16) {
        let p = 1 + 2 * channels * i;
        for (let c = 0; c < 3; c++, p += colors ? 2 : 0) data[out + c] = (current[p] << 8) | current[p + 1];
      } else if (depth === 8 && !palette) {
        const p = 1 + channels * i;
        for (let c = 0; c < 3; c++) data[out + c] = current[colors ? p + c : p];
      } else this.layCode(current, i, out, colors);
      if (this.alpha) this.alpha[out / 3] = this.alphaOf(current, i);
    }
  }

  /** Alpha of a px of the current row, 0..65535. */
  private alphaOf(current: Uint8Array, i: number): number {
    const { depth, channels } = this.header;
    const { clear } = this;
    const code = (c: number) =>
      depth === 16
        ? (current[1 + 2 * (channels * i + c)] << 8) | current[2 + 2 * (channels * i + c)]
        : depth === 8
          ? current[1 + channels * i + c]
          : codeAt(current, i, depth);
    if (!clear) return depth === 16 ? code(channels - 1) : 257 * code(channels - 1);
    if ("palette" in clear) return 257 * (clear.palette[code(0)] ?? 255);
    return clear.codes.every((v, c) => v === code(c)) ? 0 : 65_535;
  }

  /** Palettes, and codes of fewer than 8 bits; a palette beside whole colours only advises. */
  private layCode(current: Uint8Array, i: number, out: number, colors: boolean): void {
    const { depth, colorType, channels } = this.header;
    const { data, palette } = this;
    if (colorType !== PALETTE && depth === 8) {
      for (let c = 0; c < 3; c++) data[out + c] = current[1 + channels * i + (colors ? c : 0)];
      return;
    }
    const code = codeAt(current, i, depth);
    if (colorType !== PALETTE) data.fill((code * 255) / ((1 << depth) - 1), out, out + 3);
    else {
      if (3 * code >= palette!.length) throw damaged();
      for (let c = 0; c < 3; c++) data[out + c] = palette![3 * code + c];
    }
  }
}

/** A code of at most 8 bits in a row. */
const codeAt = (row: Uint8Array, i: number, depth: number): number => (row[1 + ((i * depth) >> 3)] >> (8 - depth - ((i * depth) & 7))) & ((1 << depth) - 1);

/** @see PNG specification, third edition, 9.2 @param row its filter first, in place @param step bytes to the pixel before */
function unfilter(row: Uint8Array, before: Uint8Array, step: number): void {
  const filter = row[0];
  const n = row.length;
  if (filter === 0) return;
  if (filter === 1) for (let i = 1 + step; i < n; i++) row[i] += row[i - step];
  else if (filter === 2) for (let i = 1; i < n; i++) row[i] += before[i];
  else if (filter === 3) {
    for (let i = 1; i < Math.min(n, 1 + step); i++) row[i] += before[i] >> 1;
    for (let i = 1 + step; i < n; i++) row[i] += (row[i - step] + before[i]) >> 1;
  } else if (filter === 4) {
    for (let i = 1; i < Math.min(n, 1 + step); i++) row[i] += before[i];
    for (let i = 1 + step; i < n; i++) {
      const [a, b, c] = [row[i - step], before[i], before[i - step]];
      const [pa, pb, pc] = [Math.abs(b - c), Math.abs(a - c), Math.abs(a + b - 2 * c)];
      row[i] += pa <= pb && pa <= pc ? a : pb <= pc ? b : c;
    }
  } else throw damaged();
}

/** What a PNG says of its colour, the first that counts of several. @see PNG specification, third edition, 4.3 */
export type PngColor =
  | { by: "codes"; primaries: number; transfer: number }
  | { by: "profile"; profile: Uint8Array | null }
  /** exponent from codes to light; chromaticities of red, green, blue and white */
  | { by: "gamma"; exponent: number; primaries: number[] | null }
  | null;

/** Without decoding pixels. */
export function readPngColor(bytes: Uint8Array): PngColor {
  const found = new Map<string, Uint8Array>();
  for (const { type, data } of chunksOf(bytes, false)) {
    if (type === "IDAT") break;
    if (!found.has(type)) found.set(type, data);
  }
  const codes = found.get("cICP");
  if (codes?.length === 4) return { by: "codes", primaries: codes[0], transfer: codes[1] };
  const profile = found.get("iCCP");
  if (profile) return { by: "profile", profile: unpackProfile(profile) };
  const gamma = found.get("gAMA");
  if (found.has("sRGB") || gamma?.length !== 4) return null;
  const stated = viewOf(gamma).getUint32(0);
  if (stated === 0) return null;
  const places = found.get("cHRM");
  const view = places?.length === 32 ? viewOf(places) : null;
  const [wx, wy, ...rgb] = view ? Array.from({ length: 8 }, (_, i) => view.getUint32(4 * i) / 100_000) : [];
  return { by: "gamma", exponent: 100_000 / stated, primaries: view ? [...rgb, wx, wy] : null };
}

/** Null where it does not unpack. */
function unpackProfile(chunk: Uint8Array): Uint8Array | null {
  const end = chunk.indexOf(0);
  if (end < 0) return null;
  try {
    return inflateWhole(chunk.subarray(end + 2), LARGEST_PROFILE);
  } catch {
    return null;
  }
}
