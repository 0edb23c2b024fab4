import { Inflate } from "pako";

/** Why a zlib stream was not taken: it is damaged, or it holds more than it may. */
export class InflateError extends Error {
  override readonly name = "InflateError";
}

/** Bytes that are made at once. */
const PORTION = 1 << 18;

/**
 * Inflates a zlib stream and holds it to its checksum, which tells flipped bits that still inflate. @see RFC 1950
 * @param most bytes it may become; no more than that and one portion is ever made @throws InflateError
 */
export function inflateWhole(bytes: Uint8Array, most: number): Uint8Array {
  const inflate = new Inflate({ chunkSize: Math.max(64, Math.min(PORTION, most)) });
  const parts: Uint8Array[] = [];
  let length = 0;
  inflate.onData = (part) => {
    const made = part as Uint8Array;
    length += made.length;
    if (length > most) throw new InflateError("more than it may be");
    parts.push(made);
  };
  try {
    inflate.push(bytes, true);
  } catch (error) {
    throw error instanceof InflateError ? error : new InflateError("damaged");
  }
  // its types leave out that it knows whether the stream came to its end
  if (inflate.err !== 0 || !(inflate as Inflate & { ended: boolean }).ended) throw new InflateError("damaged");
  const out = new Uint8Array(length);
  let at = 0;
  for (const part of parts) {
    out.set(part, at);
    at += part.length;
  }
  return out;
}
