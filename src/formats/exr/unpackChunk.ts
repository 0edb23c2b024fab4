import { message } from "../../messages/message";
import { viewOf } from "../bytes";
import { FormatError } from "../formatError";
import { inflateWhole } from "../inflate";
import { damagedExr, KIND_BYTES, type Compression, type ExrChannel } from "./exrHeader";
import { unpackPiz } from "./piz";

/** A channel as a chunk holds it. */
export interface ChunkChannel {
  channel: ExrChannel;
  width: number;
  height: number;
}

/** What a chunk holds, and in which rows; a thinned channel has samples in some rows only. */
export interface ChunkLayout {
  channels: ChunkChannel[];
  y0: number;
  rows: number;
  /** bytes of all samples */
  size: number;
}

/** Samples of a chunk: channel by channel, row by row, as their bits. */
export type ChunkSamples = (Uint16Array | Uint32Array)[];

/**
 * Unpacks a chunk of scanlines or a tile. What would not have become smaller is stored as it is.
 * @throws FormatError where it is damaged, or packed in a way that is not read
 */
export function unpackChunk(bytes: Uint8Array, compression: Compression, layout: ChunkLayout): ChunkSamples {
  if (bytes.length > layout.size) throw damagedExr("exr.longChunk");
  if (compression === "none" && bytes.length !== layout.size) throw damagedExr("exr.shortChunk");
  if (bytes.length === layout.size) return ofRows(bytes, layout);
  switch (compression) {
    case "RLE":
      return ofRows(undoPrediction(unpackRuns(bytes, layout.size)), layout);
    case "ZIPS":
    case "ZIP":
      return ofRows(undoPrediction(inflated(bytes, layout.size)), layout);
    case "PIZ":
      return ofPiz(bytes, layout);
    case "PXR24":
      return ofPxr24(bytes, layout);
    case "B44":
    case "B44A":
      return ofB44(bytes, layout);
    default:
      throw new FormatError("unsupported", message("exr.compression", { compression }));
  }
}

/** What fits in so many bytes, exactly. */
function inflated(bytes: Uint8Array, size: number): Uint8Array {
  let whole: Uint8Array;
  try {
    whole = inflateWhole(bytes, size);
  } catch {
    throw damagedExr("exr.packedChunk");
  }
  if (whole.length !== size) throw damagedExr("exr.littleInChunk");
  return whole;
}

function emptySamples({ channels }: ChunkLayout): ChunkSamples {
  return channels.map(({ channel, width, height }) => (channel.kind === "half" ? new Uint16Array(width * height) : new Uint32Array(width * height)));
}

/** Calls for each channel with samples in a row, rows from the top, channels in order. @param each is given the place of the row in the channel's samples */
function forRows({ channels, y0, rows }: ChunkLayout, each: (index: number, at: number, width: number) => void): void {
  const done = channels.map(() => 0);
  for (let y = y0; y < y0 + rows; y++) {
    channels.forEach(({ channel, width }, index) => {
      if (y % channel.yStep !== 0) return;
      each(index, done[index], width);
      done[index] += width;
    });
  }
}

/** Rows of samples, least significant byte first. */
function ofRows(bytes: Uint8Array, layout: ChunkLayout): ChunkSamples {
  const out = emptySamples(layout);
  const view = viewOf(bytes);
  let p = 0;
  forRows(layout, (index, at, width) => {
    const samples = out[index];
    if (samples instanceof Uint16Array) for (let x = 0; x < width; x++, p += 2) samples[at + x] = view.getUint16(p, true);
    else for (let x = 0; x < width; x++, p += 4) samples[at + x] = view.getUint32(p, true);
  });
  return out;
}

/** Runs: a negative count of bytes as they are, or one byte so often and once more. */
function unpackRuns(bytes: Uint8Array, size: number): Uint8Array {
  const out = new Uint8Array(size);
  let at = 0;
  for (let p = 0; p < bytes.length;) {
    const count = (bytes[p++] << 24) >> 24;
    const length = count < 0 ? -count : count + 1;
    const taken = count < 0 ? length : 1;
    if (at + length > size || p + taken > bytes.length) throw damagedExr("exr.longRun");
    if (count < 0) out.set(bytes.subarray(p, p + length), at);
    else out.fill(bytes[p], at, at + length);
    p += taken;
    at += length;
  }
  if (at !== size) throw damagedExr("exr.littleInChunk");
  return out;
}

/** Differences become bytes; then the first half of them are those at even places, the second half those at odd ones. */
function undoPrediction(bytes: Uint8Array): Uint8Array {
  for (let i = 1; i < bytes.length; i++) bytes[i] = bytes[i - 1] + bytes[i] - 128;
  const out = new Uint8Array(bytes.length);
  const half = (bytes.length + 1) >> 1;
  for (let i = 0; i < half; i++) out[2 * i] = bytes[i];
  for (let i = half; i < bytes.length; i++) out[2 * (i - half) + 1] = bytes[i];
  return out;
}

function ofPiz(bytes: Uint8Array, layout: ChunkLayout): ChunkSamples {
  const planes = layout.channels.map(({ channel, width, height }) => ({ width, height, words: KIND_BYTES[channel.kind] / 2 }));
  const words = unpackPiz(bytes, planes);
  let start = 0;
  return layout.channels.map(({ channel, width, height }) => {
    const n = width * height;
    const from = start;
    start += (n * KIND_BYTES[channel.kind]) / 2;
    if (channel.kind === "half") return words.slice(from, from + n);
    return Uint32Array.from({ length: n }, (_, i) => (words[from + 2 * i] | (words[from + 2 * i + 1] << 16)) >>> 0);
  });
}

/** Bytes of a sample by significance: floats have lost their last. */
const PXR24_BYTES = { uint: 4, half: 2, float: 3 } as const;

/** Differences along rows, their bytes sorted by significance, deflated. */
function ofPxr24(bytes: Uint8Array, layout: ChunkLayout): ChunkSamples {
  const size = layout.channels.reduce((n, { channel, width, height }) => n + width * height * PXR24_BYTES[channel.kind], 0);
  const packed = inflated(bytes, size);
  const out = emptySamples(layout);
  let p = 0;
  forRows(layout, (index, at, width) => {
    const { kind } = layout.channels[index].channel;
    const count = PXR24_BYTES[kind];
    let value = 0;
    for (let x = 0; x < width; x++) {
      let difference = 0;
      for (let b = 0; b < count; b++) difference = (difference << 8) | packed[p + b * width + x];
      if (kind === "float") difference <<= 8;
      value = (value + difference) | 0;
      out[index][at + x] = value;
    }
    p += count * width;
  });
  return out;
}

const BLOCK = 4;
/** From this shift on a block of 4×4 is one value in three bytes. */
const FLAT_SHIFT = 13;

/** Blocks of 4×4 half floats in 14 bytes, or 3 where they are alike; other kinds as they are. Channel by channel. */
function ofB44(bytes: Uint8Array, layout: ChunkLayout): ChunkSamples {
  const out = emptySamples(layout);
  const view = viewOf(bytes);
  let p = 0;
  const block = new Uint16Array(BLOCK * BLOCK);
  layout.channels.forEach(({ channel, width, height }, index) => {
    const samples = out[index];
    if (!(samples instanceof Uint16Array)) {
      if (p + samples.length * 4 > bytes.length) throw damagedExr("exr.shortChunk");
      for (let i = 0; i < samples.length; i++, p += 4) samples[i] = view.getUint32(p, true);
      return;
    }
    if (channel.perceptual) throw new FormatError("unsupported", "exr.b44Curve");
    for (let y = 0; y < height; y += BLOCK) {
      for (let x = 0; x < width; x += BLOCK) {
        const flat = bytes[p + 2] >= FLAT_SHIFT << 2;
        const length = flat ? 3 : 14;
        if (p + length > bytes.length) throw damagedExr("exr.shortChunk");
        unpackBlock(bytes, p, flat, block);
        p += length;
        for (let j = 0; j < BLOCK && y + j < height; j++)
          for (let i = 0; i < BLOCK && x + i < width; i++) samples[(y + j) * width + x + i] = block[j * BLOCK + i];
      }
    }
  });
  if (p !== bytes.length) throw damagedExr("exr.muchInChunk");
  return out;
}

/** The first value, and 15 differences of six bits that are shifted alike: down the first column, then along the rows. */
function unpackBlock(b: Uint8Array, p: number, flat: boolean, s: Uint16Array): void {
  s[0] = (b[p] << 8) | b[p + 1];
  if (flat) s.fill(s[0]);
  else {
    const shift = b[p + 2] >> 2;
    const bias = 0x20 << shift;
    // differences lie behind each other from the last two bits of the third byte on
    let bit = 8 * (p + 2) + 6;
    const next = () => {
      const at = bit >> 3;
      const value = ((((b[at] << 8) | b[at + 1]) >> (10 - (bit & 7))) & 0x3f) << shift;
      bit += 6;
      return value;
    };
    for (let y = 1; y < BLOCK; y++) s[y * BLOCK] = s[(y - 1) * BLOCK] + next() - bias;
    for (let x = 1; x < BLOCK; x++) for (let y = 0; y < BLOCK; y++) s[y * BLOCK + x] = s[y * BLOCK + x - 1] + next() - bias;
  }
  // numbers that order as the floats do
  for (let i = 0; i < s.length; i++) s[i] = s[i] & 0x8000 ? s[i] & 0x7fff : ~s[i];
}
