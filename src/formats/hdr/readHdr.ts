import { asMessage, message, type Message, type Telling } from "../../messages/message";
import { WORKING_TO_XYZ, type Primaries } from "../../core/color/primaries";
import { invert } from "../../core/geometry/matrix3";
import type { SourceRaster } from "../../core/raster/raster";
import { checkPictureSize, FormatError } from "../formatError";
import { fromPrimaries } from "../linearPrimaries";

/** What the lines before the pixels say. */
export interface HdrHeader {
  /** what the samples were multiplied by when they were written: exposures and colour corrections, all of them together */
  factors: [number, number, number];
  encoding: "rgbe" | "xyze";
  primaries: Primaries | null;
  /** scanlines, and samples along each */
  lines: number;
  length: number;
  /** whether scanlines are columns, and whether they and their samples go from right to left or from the bottom up */
  columns: boolean;
  linesReversed: boolean;
  samplesReversed: boolean;
  /** where the pixels begin */
  start: number;
}

/** As of every float source: the largest half float. */
const BRIGHTEST = 65_504;
const LONGEST_HEADER = 65_536;
const damaged = (why: Telling) => new FormatError("damaged", message("hdr.damaged", { why: asMessage(why) }));

/**
 * Reads the text before the pixels: variables, an empty line, the resolution.
 * @see Ward, "Real Pixels", Graphics Gems II, 1991, and Radiance's own description of its picture format, recalled from memory
 */
export function readHdrHeader(bytes: Uint8Array): HdrHeader {
  const text = new TextDecoder("latin1").decode(bytes.subarray(0, LONGEST_HEADER));
  const end = text.indexOf("\n\n");
  if (end < 0) throw damaged("hdr.openHeader");
  const sizeEnd = text.indexOf("\n", end + 2);
  const size = /^([+-])([XY]) (\d{1,9}) ([+-])([XY]) (\d{1,9})$/.exec(text.slice(end + 2, sizeEnd < 0 ? undefined : sizeEnd));
  if (sizeEnd < 0 || !size || size[2] === size[5]) throw damaged("hdr.noSize");
  const [, lineSign, lineAxis, lineCount, sampleSign, , length] = size;
  const columns = lineAxis === "X";
  const header: HdrHeader = {
    factors: [1, 1, 1],
    encoding: "rgbe",
    primaries: null,
    lines: Number(lineCount),
    length: Number(length),
    columns,
    // rows go down the picture where Y falls, columns to the right where X rises
    linesReversed: columns ? lineSign === "-" : lineSign === "+",
    samplesReversed: columns ? sampleSign === "+" : sampleSign === "-",
    start: sizeEnd + 1,
  };
  const [kind, ...lines] = text.slice(0, end).split("\n");
  if (!/^#\?(RADIANCE|RGBE)\s*$/.test(kind)) throw damaged("hdr.noSignature");
  // without it, what the other lines say cannot be trusted either: its writer has damaged them, or something on the way
  if (!lines.some((line) => /^FORMAT\s*=/.test(line))) throw damaged("hdr.noFormat");
  for (const line of lines) readVariable(header, line);
  checkPictureSize(columns ? header.lines : header.length, columns ? header.length : header.lines);
  return header;
}

function readVariable(header: HdrHeader, line: string): void {
  const [, name, value] = /^([A-Z]+)\s*=\s*(.*)$/.exec(line) ?? [];
  const numbers = (value ?? "").trim().split(/\s+/).map(Number);
  if (name === "FORMAT") {
    if (/^32-bit_rle_rgbe$/.test(value.trim())) header.encoding = "rgbe";
    else if (/^32-bit_rle_xyze$/.test(value.trim())) header.encoding = "xyze";
    else throw new FormatError("unsupported", "hdr.packing");
  }
  if (name === "EXPOSURE" && numbers[0] > 0 && Number.isFinite(numbers[0])) header.factors = header.factors.map((f) => f * numbers[0]) as HdrHeader["factors"];
  if (name === "COLORCORR" && numbers.length === 3 && numbers.every((v) => v > 0 && Number.isFinite(v)))
    header.factors = header.factors.map((f, c) => f * numbers[c]) as HdrHeader["factors"];
  if (name === "PRIMARIES" && numbers.length === 8 && numbers.every(Number.isFinite)) {
    const [rx, ry, gx, gy, bx, by, wx, wy] = numbers;
    header.primaries = { red: [rx, ry], green: [gx, gy], blue: [bx, by], white: [wx, wy] };
  }
}

/** Matrix from the picture's own light to working light, and what it is called. XYZ is taken as it is; RGB of another white is adapted to D65. */
export function hdrColor({ encoding, primaries }: HdrHeader): { name: string; toWorking: number[] } {
  if (encoding === "xyze") return { name: "CIE XYZ", toWorking: invert(WORKING_TO_XYZ) };
  return fromPrimaries(primaries, "Radiance");
}

/** Reads a Radiance picture. What was multiplied in when it was written is taken off. @throws FormatError with one sentence */
export function readHdr(bytes: Uint8Array): { raster: SourceRaster; notes: Message[] } {
  const header = readHdrHeader(bytes);
  const { lines, length, columns, factors } = header;
  // runs may make much of little: before room is made for it, all of it is looked for
  if (bytes.length < lines * length) {
    const looking = new ScanlineReader(bytes, header.start, length);
    for (let l = 0; l < lines; l++) looking.next();
  }
  const [width, height] = columns ? [lines, length] : [length, lines];
  const data = new Float32Array(width * height * 3);
  const reader = new ScanlineReader(bytes, header.start, length);
  for (let l = 0; l < lines; l++) {
    const pixels = reader.next();
    const line = header.linesReversed ? lines - 1 - l : l;
    for (let s = 0; s < length; s++) {
      const at = header.samplesReversed ? length - 1 - s : s;
      const out = 3 * (columns ? at * width + line : line * width + at);
      const exponent = pixels[4 * s + 3];
      if (exponent === 0) continue;
      const scale = 2 ** (exponent - 136);
      for (let c = 0; c < 3; c++) data[out + c] = Math.min(BRIGHTEST, (pixels[4 * s + c] * scale) / factors[c]);
    }
  }
  return { raster: { width, height, bits: 32, data }, notes: notesOf(header) };
}

function notesOf({ factors }: HdrHeader): Message[] {
  if (factors.every((f) => f === 1)) return [];
  const even = factors.every((f) => f === factors[0]);
  return [even ? message("hdr.exposure", { factor: String(Number(factors[0].toPrecision(3))) }) : message("hdr.correction", {})];
}

/** Scanlines of RGBE pixels, in any of the three ways in which they are stored. */
class ScanlineReader {
  private readonly line: Uint8Array;

  constructor(
    private readonly bytes: Uint8Array,
    private at: number,
    private readonly length: number,
  ) {
    this.line = new Uint8Array(length * 4);
  }

  /** The next scanline; it is overwritten by the one after it. */
  next(): Uint8Array {
    const { bytes, at, length } = this;
    const parted = length >= 8 && length < 32_768 && bytes[at] === 2 && bytes[at + 1] === 2 && bytes[at + 2] < 128;
    if (!parted) this.readPixels();
    else if (((bytes[at + 2] << 8) | bytes[at + 3]) !== length) throw damaged("hdr.rowLength");
    else this.readChannels();
    return this.line;
  }

  /** Each channel by itself: runs of up to 127 equal bytes, or up to 128 bytes as they are. */
  private readChannels(): void {
    const { bytes, line, length } = this;
    let p = this.at + 4;
    for (let c = 0; c < 4; c++) {
      for (let x = 0; x < length;) {
        if (p + 1 >= bytes.length) throw damaged("hdr.withinRow");
        const count = bytes[p++];
        const run = count > 128 ? count - 128 : count;
        if (run === 0 || x + run > length) throw damaged("hdr.longRun");
        if (count > 128) for (const v = bytes[p++], end = x + run; x < end; x++) line[4 * x + c] = v;
        else {
          if (p + run > bytes.length) throw damaged("hdr.withinRow");
          for (const end = x + run; x < end; x++) line[4 * x + c] = bytes[p++];
        }
      }
    }
    this.at = p;
  }

  /** Pixel after pixel; 1, 1, 1, n repeats the one before n times, and one right after another counts 256 times as much. */
  private readPixels(): void {
    const { bytes, line, length } = this;
    let [p, shift] = [this.at, 0];
    for (let x = 0; x < length;) {
      if (p + 4 > bytes.length) throw damaged("hdr.withinRow");
      if (bytes[p] === 1 && bytes[p + 1] === 1 && bytes[p + 2] === 1) {
        const run = bytes[p + 3] * 2 ** shift;
        if (x === 0 || x + run > length) throw damaged("hdr.longRun");
        for (const end = x + run; x < end; x++) line.copyWithin(4 * x, 4 * x - 4, 4 * x);
        shift += 8;
      } else {
        line.set(bytes.subarray(p, p + 4), 4 * x);
        x++;
        shift = 0;
      }
      p += 4;
    }
    this.at = p;
  }
}
