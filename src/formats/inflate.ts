import { Inflate } from "pako";

/** Why a zlib stream was not taken: it is damaged, or it holds more than it may. */
export class InflateError extends Error {
  override readonly name = "InflateError";
}

/** No byte of a Deflate stream becomes more than so many: 258 for two bits, and what surrounds them. @see RFC 1951, 3.2.5 */
export const MOST_INFLATED = 1040;
/** Bytes that are made at once. */
const PORTION = 1 << 18;

/**
 * Inflates a zlib stream that comes in parts, portion by portion, and holds it to its checksum, which tells flipped bits that still inflate. @see RFC 1950
 * @param most bytes it may become; no more than that and one portion is ever made @param take is given each portion
 * @throws InflateError, and what `take` throws
 */
export function inflateParts(parts: Uint8Array[], most: number, take: (portion: Uint8Array) => void): void {
  const inflate = new Inflate({ chunkSize: Math.max(64, Math.min(PORTION, most)) }) as Inflate & { ended: boolean };
  let length = 0;
  let stopped: unknown = null;
  inflate.onData = (part) => {
    const made = part as Uint8Array;
    length += made.length;
    try {
      if (length > most) throw new InflateError("more than it may be");
      take(made);
    } catch (error) {
      stopped = error;
      throw error;
    }
  };
  try {
    parts.forEach((part, i) => {
      // what stands behind the end of the stream is not looked at
      if (!inflate.ended) inflate.push(part, i === parts.length - 1);
    });
  } catch {
    throw stopped ?? new InflateError("damaged");
  }
  // its types leave out that it knows whether the stream came to its end
  if (inflate.err !== 0 || !inflate.ended) throw new InflateError("damaged");
}

/** The same of one part, as a whole. @throws InflateError */
export function inflateWhole(bytes: Uint8Array, most: number): Uint8Array {
  const parts: Uint8Array[] = [];
  let length = 0;
  inflateParts([bytes], most, (part) => {
    parts.push(part);
    length += part.length;
  });
  const out = new Uint8Array(length);
  let at = 0;
  for (const part of parts) {
    out.set(part, at);
    at += part.length;
  }
  return out;
}
