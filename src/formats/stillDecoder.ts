/** What Marsh uses of a decoder of WebP or AVIF. */
export interface StillDecoder {
  /** @param depth bits per sample of the result, where the format knows more than 8 */
  decode(bytes: Uint8Array, depth?: 8 | 16): StillPicture | null;
}
interface StillPicture {
  width: number;
  height: number;
  data: Uint8ClampedArray | Uint16Array;
}

/** @returns null for damaged data */
export function decodeStill(decoder: StillDecoder, bytes: Uint8Array, depth?: 8 | 16): StillPicture | null {
  try {
    return depth ? decoder.decode(bytes, depth) : decoder.decode(bytes);
  } catch {
    return null;
  }
}
