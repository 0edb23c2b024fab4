import type { SourceRaster } from "../../core/raster/raster";
import { viewOf } from "../bytes";
import { checkPictureSize, FormatError } from "../formatError";
import { decodeStill, type StillDecoder } from "../stillDecoder";
import { takeAlpha, type FileAlpha } from "../takeAlpha";

const damaged = () => new FormatError("damaged", "webp.damaged");

/** The chunks of the RIFF container. @see RFC 9649, section 2 */
function* chunksOf(bytes: Uint8Array): Generator<{ name: string; data: Uint8Array }> {
  const view = viewOf(bytes);
  for (let p = 12; p + 8 <= bytes.length;) {
    const size = view.getUint32(p + 4, true);
    if (p + 8 + size > bytes.length) throw damaged();
    yield { name: String.fromCharCode(...bytes.subarray(p, p + 4)), data: bytes.subarray(p + 8, p + 8 + size) };
    p += 8 + size + (size % 2);
  }
}

export function isWebp(bytes: Uint8Array): boolean {
  const text = (at: number) => String.fromCharCode(...bytes.subarray(at, at + 4));
  return bytes.length >= 12 && text(0) === "RIFF" && text(8) === "WEBP";
}

/** The embedded ICC profile, without decoding pixels. */
export function readWebpProfile(bytes: Uint8Array): Uint8Array | null {
  for (const { name, data } of chunksOf(bytes)) if (name === "ICCP") return data.slice();
  return null;
}

/** @returns interleaved RGB, 8 bit, and alpha @throws FormatError with one sentence */
export async function readWebp(
  bytes: Uint8Array,
  start: () => Promise<StillDecoder>,
): Promise<{ raster: SourceRaster; alpha: FileAlpha | null; profile: Uint8Array | null }> {
  const size = sizeOf(bytes);
  checkPictureSize(size.width, size.height);
  const picture = decodeStill(await start(), bytes);
  if (!picture || picture.width !== size.width || picture.height !== size.height) throw damaged();
  return { ...takeAlpha(picture), profile: readWebpProfile(bytes) };
}

/** Size as the first picture chunk states it. @see RFC 9649, sections 2.7 (extended), 3.4 (lossless); RFC 6386, 9.1 (lossy) */
function sizeOf(bytes: Uint8Array): { width: number; height: number } {
  for (const { name, data } of chunksOf(bytes)) {
    const view = viewOf(data);
    if (name === "VP8X" && data.length >= 10) {
      if (data[0] & ANIMATED) throw new FormatError("unsupported", "webp.animation");
      return { width: 1 + (view.getUint32(4, true) & 0xffffff), height: 1 + (view.getUint32(6, true) >>> 8) };
    }
    if (name === "VP8L" && data.length >= 5) {
      const bits = view.getUint32(1, true);
      return { width: 1 + (bits & 0x3fff), height: 1 + ((bits >>> 14) & 0x3fff) };
    }
    if (name === "VP8 " && data.length >= 10) return { width: view.getUint16(6, true) & 0x3fff, height: view.getUint16(8, true) & 0x3fff };
  }
  throw damaged();
}

const ANIMATED = 2;
