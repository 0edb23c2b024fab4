import { viewOf } from "../bytes";
import { damagedExr } from "./exrHeader";

// PIZ: a table of the values that occur, a wavelet over the numbers of those values, Huffman codes.
// @see Kainz, Bogart, Stanczyk, "Technical Introduction to OpenEXR", and the format's reference implementation; both recalled from memory

const SYMBOLS = 65_537;
/** Codes of up to so many bits are looked up at once. */
const QUICK_BITS = 12;
/** A code of more bits needs more samples than any chunk has. */
const LONGEST_CODE = 48;

/** Where the samples of one channel lie in a chunk: rows of `width` samples of so many 16-bit words. */
export interface PizPlane {
  width: number;
  height: number;
  /** 16-bit words of a sample */
  words: number;
}

/** @returns 16-bit words of all planes, one after the other @throws FormatError */
export function unpackPiz(bytes: Uint8Array, planes: PizPlane[]): Uint16Array {
  const total = planes.reduce((n, p) => n + p.width * p.height * p.words, 0);
  if (bytes.length < 4) throw damagedExr("exr.shortChunk");
  const view = viewOf(bytes);
  const [first, last] = [view.getUint16(0, true), view.getUint16(2, true)];
  let p = 4;
  const used = new Uint8Array(8192);
  if (last >= used.length) throw damagedExr("exr.noTable");
  if (first <= last) {
    const length = last - first + 1;
    if (p + length > bytes.length) throw damagedExr("exr.shortChunk");
    used.set(bytes.subarray(p, p + length), first);
    p += length;
  }
  const values = new Uint16Array(65_536);
  let count = 0;
  for (let v = 0; v < 65_536; v++) if (v === 0 || used[v >> 3] & (1 << (v & 7))) values[count++] = v;
  if (p + 4 > bytes.length) throw damagedExr("exr.shortChunk");
  const length = view.getInt32(p, true);
  p += 4;
  if (length < 0 || p + length > bytes.length) throw damagedExr("exr.shortChunk");
  const words = decodeHuffman(bytes.subarray(p, p + length), total);
  let start = 0;
  for (const { width, height, words: step } of planes) {
    for (let j = 0; j < step; j++) undoWavelet(words, start + j, width, step, height, width * step, count - 1);
    start += width * height * step;
  }
  for (let i = 0; i < words.length; i++) words[i] = values[words[i]];
  return words;
}

/** Reads bits from the highest of each byte on; past the end there are none. */
class BitReader {
  private held = 0;
  private count = 0;
  constructor(
    private readonly bytes: Uint8Array,
    public at: number,
  ) {}

  bits(n: number): number {
    while (this.count < n) {
      if (this.at >= this.bytes.length) throw damagedExr("exr.shortChunk");
      this.held = ((this.held << 8) | this.bytes[this.at++]) & 0xffff;
      this.count += 8;
    }
    this.count -= n;
    return (this.held >> this.count) & ((1 << n) - 1);
  }
}

const RUN_FROM = 59;
const LONG_RUN = 63;

/** Lengths of the codes of symbols first to last; runs of symbols without a code are shortened. */
function readLengths(reader: BitReader, first: number, last: number): Uint8Array {
  const lengths = new Uint8Array(SYMBOLS);
  for (let s = first; s <= last;) {
    const l = reader.bits(6);
    if (l < RUN_FROM) lengths[s++] = l;
    else s += l === LONG_RUN ? reader.bits(8) + LONG_RUN - RUN_FROM + 2 : l - RUN_FROM + 2;
    if (s > last + 1) throw damagedExr("exr.codes");
  }
  return lengths;
}

/** Codes of one length are consecutive numbers; longer codes are smaller than what shorter ones begin with. */
interface Codes {
  /** by number of bits: the first code, how many there are, where their symbols begin */
  first: Float64Array;
  count: Uint32Array;
  from: Uint32Array;
  symbols: Uint32Array;
  longest: number;
}

function codesOf(lengths: Uint8Array): Codes {
  const count = new Uint32Array(LONGEST_CODE + 2);
  let longest = 0;
  for (const l of lengths) {
    if (l > LONGEST_CODE) throw damagedExr("exr.codes");
    if (l > 0) count[l]++;
    if (l > longest) longest = l;
  }
  const [first, from] = [new Float64Array(LONGEST_CODE + 2), new Uint32Array(LONGEST_CODE + 2)];
  const shortest = count.findIndex((n) => n > 0);
  let code = 0;
  for (let l = LONGEST_CODE; l > 0; l--) {
    first[l] = code;
    // an odd number would make a shorter code the beginning of a longer one
    if (l > shortest && (code + count[l]) % 2 !== 0) throw damagedExr("exr.codes");
    code = Math.floor((code + count[l]) / 2);
  }
  for (let l = 1, at = 0; l <= LONGEST_CODE; l++) {
    from[l] = at;
    at += count[l];
    if (first[l] + count[l] > 2 ** l) throw damagedExr("exr.codes");
  }
  const symbols = new Uint32Array(SYMBOLS);
  const filled = from.slice();
  for (let s = 0; s < SYMBOLS; s++) if (lengths[s] > 0) symbols[filled[lengths[s]]++] = s;
  return { first, count, from, symbols, longest };
}

function decodeHuffman(bytes: Uint8Array, total: number): Uint16Array {
  const out = new Uint16Array(total);
  if (bytes.length === 0) {
    if (total > 0) throw damagedExr("exr.shortChunk");
    return out;
  }
  if (bytes.length < 20) throw damagedExr("exr.shortChunk");
  const view = viewOf(bytes);
  const [first, last, , bitCount] = [0, 4, 8, 12].map((o) => view.getUint32(o, true));
  if (first >= SYMBOLS || last >= SYMBOLS || first > last) throw damagedExr("exr.codes");
  const table = new BitReader(bytes, 20);
  const codes = codesOf(readLengths(table, first, last));
  const start = table.at;
  if (bitCount > 8 * (bytes.length - start)) throw damagedExr("exr.shortChunk");
  // symbol and length of every beginning of QUICK_BITS bits
  const quick = new Uint32Array(1 << QUICK_BITS);
  for (let l = 1; l <= Math.min(QUICK_BITS, codes.longest); l++) {
    for (let k = 0; k < codes.count[l]; k++) {
      const code = codes.first[l] + k;
      quick.fill((codes.symbols[codes.from[l] + k] << 6) | l, code << (QUICK_BITS - l), (code + 1) << (QUICK_BITS - l));
    }
  }
  let [p, held, bits, left, done] = [start, 0, 0, bitCount, 0];
  const take = (n: number) => {
    while (bits < n) {
      held = ((held << 8) | (p < bytes.length ? bytes[p] : 0)) >>> 0;
      p++;
      bits += 8;
    }
    bits -= n;
    left -= n;
    if (left < 0) throw damagedExr("exr.shortChunk");
    const value = (held >>> bits) & ((1 << n) - 1);
    return value;
  };
  while (left > 0) {
    while (bits < QUICK_BITS) {
      held = ((held << 8) | (p < bytes.length ? bytes[p] : 0)) >>> 0;
      p++;
      bits += 8;
    }
    const entry = quick[(held >>> (bits - QUICK_BITS)) & ((1 << QUICK_BITS) - 1)];
    let symbol: number;
    if (entry !== 0) {
      bits -= entry & 63;
      left -= entry & 63;
      if (left < 0) throw damagedExr("exr.shortChunk");
      symbol = entry >>> 6;
    } else {
      let [code, l] = [take(QUICK_BITS), QUICK_BITS];
      do {
        if (++l > codes.longest) throw damagedExr("exr.unknownCode");
        code = code * 2 + take(1);
      } while (!(code - codes.first[l] >= 0 && code - codes.first[l] < codes.count[l]));
      symbol = codes.symbols[codes.from[l] + code - codes.first[l]];
    }
    // the last symbol repeats the value before
    if (symbol === last) {
      const run = take(8);
      if (done === 0 || done + run > total) throw damagedExr("exr.muchInChunk");
      out.fill(out[done - 1], done, done + run);
      done += run;
    } else {
      if (done >= total) throw damagedExr("exr.muchInChunk");
      out[done++] = symbol;
    }
  }
  if (done !== total) throw damagedExr("exr.littleInChunk");
  return out;
}

/** Puts the sums and differences of a plane together again, from the coarsest on, in place. @param most largest value */
function undoWavelet(v: Uint16Array, start: number, nx: number, ox: number, ny: number, oy: number, most: number): void {
  const small = most < 1 << 14;
  const n = Math.min(nx, ny);
  let p = 1;
  while (p <= n) p <<= 1;
  p >>= 1;
  let p2 = p;
  p >>= 1;
  let [a, b] = [0, 0];
  /** the two values of a mean and a difference */
  const part = (l: number, h: number) => {
    if (small) {
      const ls = (l << 16) >> 16;
      const hs = (h << 16) >> 16;
      a = (ls + (hs & 1) + (hs >> 1)) & 0xffff;
      b = (a - hs) & 0xffff;
    } else {
      b = (l - (h >> 1)) & 0xffff;
      a = (h + b - 0x8000) & 0xffff;
    }
  };
  for (; p >= 1; p2 = p, p >>= 1) {
    const [ox1, oy1, ox2, oy2] = [ox * p, oy * p, ox * p2, oy * p2];
    let py = start;
    const ey = start + oy * (ny - p2);
    for (; py <= ey; py += oy2) {
      let px = py;
      const ex = py + ox * (nx - p2);
      for (; px <= ex; px += ox2) {
        const [p01, p10] = [px + ox1, px + oy1];
        const p11 = p10 + ox1;
        part(v[px], v[p10]);
        const [i00, i10] = [a, b];
        part(v[p01], v[p11]);
        const [i01, i11] = [a, b];
        part(i00, i01);
        v[px] = a;
        v[p01] = b;
        part(i10, i11);
        v[p10] = a;
        v[p11] = b;
      }
      if (nx & p) {
        part(v[px], v[px + oy1]);
        v[px] = a;
        v[px + oy1] = b;
      }
    }
    if (ny & p) {
      let px = py;
      const ex = py + ox * (nx - p2);
      for (; px <= ex; px += ox2) {
        part(v[px], v[px + ox1]);
        v[px] = a;
        v[px + ox1] = b;
      }
    }
  }
}
