import { zlibSync } from "fflate";
import { constants, Deflate } from "pako";
import { concatBytes } from "./bytes";

/**
 * A block of a raw Deflate stream that depends on no other, so that blocks can be made side by side; it ends at a byte. Blocks one after the other are one
 * stream. @param last whether it ends the stream @see RFC 1951, section 3.2.4 (the empty stored block at the end of all but the last)
 */
export function deflateBlock(bytes: Uint8Array, last: boolean, level: 1 | 3 | 6): Uint8Array {
  const parts: Uint8Array[] = [];
  const stream = new Deflate({ raw: true, level });
  stream.onData = (part) => parts.push(part as Uint8Array);
  stream.push(bytes, last ? constants.Z_FINISH : constants.Z_SYNC_FLUSH);
  if (stream.err) throw new Error(stream.msg);
  return concatBytes(parts);
}

const BASE = 65521;
/** So many sums of bytes stay below 2^32. @see RFC 1950, section 9 */
const MOST = 5552;

/** Adler-32 of bytes, going on from the checksum of what came before. @see RFC 1950 */
export function adler32(bytes: Uint8Array, before = 1): number {
  let [a, b] = [before & 0xffff, before >>> 16];
  for (let at = 0; at < bytes.length; at += MOST) {
    const end = Math.min(bytes.length, at + MOST);
    for (let i = at; i < end; i++) b += a += bytes[i];
    a %= BASE;
    b %= BASE;
  }
  return ((b << 16) | a) >>> 0;
}

/** Two bytes that begin a zlib stream of Deflate with a window of 32 KiB. @see RFC 1950, section 2.2 */
export const ZLIB_HEADER = Uint8Array.of(0x78, 0x01);

/** Four bytes that end it. */
export function zlibTrailer(adler: number): Uint8Array {
  const out = new Uint8Array(4);
  new DataView(out.buffer).setUint32(0, adler);
  return out;
}

/** A whole zlib stream. @see RFC 1950 */
export const zlibOf = (bytes: Uint8Array, level: 1 | 3 | 6): Uint8Array => zlibSync(bytes, { level });
