import { decode } from "fast-png";
import type { SourceRaster } from "../../core/raster/raster";
import { viewOf } from "../bytes";
import { checkPictureSize, FormatError } from "../formatError";
import { inflateWhole } from "../inflate";

/** Profiles with tables of many colours take a few MB. */
const LARGEST_PROFILE = 32e6;

/**
 * Reads an 8 or 16 bit grey or RGB PNG; alpha is dropped. @see PNG specification, third edition
 * @throws FormatError with one sentence
 */
export function readPng(bytes: Uint8Array): { raster: SourceRaster; profile: Uint8Array | null } {
  if (bytes.length < 33 || viewOf(bytes).getUint32(0) !== 0x89504e47) throw new FormatError("damaged", "The file is named like a PNG but is not one.");
  const view = viewOf(bytes);
  checkPictureSize(view.getUint32(16), view.getUint32(20));
  if (bytes[25] === 3) throw new FormatError("unsupported", "The PNG uses a colour palette. Convert it to RGB first.");
  if (bytes[24] < 8) throw new FormatError("unsupported", `The PNG has ${bytes[24]} bits a sample; Marsh reads 8 and 16.`);
  let picture: ReturnType<typeof decode>;
  try {
    picture = decode(bytes, { checkCrc: true });
  } catch {
    throw new FormatError("damaged", "The PNG data is damaged or cut short and cannot be read.");
  }
  const { width, height, channels, depth } = picture;
  const source = picture.data as Uint8Array | Uint16Array;
  const data = depth === 16 ? new Uint16Array(width * height * 3) : new Uint8Array(width * height * 3);
  const grey = channels < 3;
  for (let i = 0, p = 0; i < width * height; i++, p += channels) {
    data[i * 3] = source[p];
    data[i * 3 + 1] = source[grey ? p : p + 1];
    data[i * 3 + 2] = source[grey ? p : p + 2];
  }
  return { raster: { width, height, bits: depth === 16 ? 16 : 8, data }, profile: readPngProfile(bytes) };
}

/** The embedded ICC profile (iCCP chunk), without decoding pixels. */
export function readPngProfile(bytes: Uint8Array): Uint8Array | null {
  const view = viewOf(bytes);
  for (let p = 8; p + 12 <= bytes.length;) {
    const length = view.getUint32(p);
    const type = String.fromCharCode(...bytes.subarray(p + 4, p + 8));
    if (type === "IDAT" || p + 12 + length > bytes.length) return null;
    if (type === "iCCP") {
      const chunk = bytes.subarray(p + 8, p + 8 + length);
      const end = chunk.indexOf(0);
      try {
        return end >= 0 ? inflateWhole(chunk.subarray(end + 2), LARGEST_PROFILE) : null;
      } catch {
        return null;
      }
    }
    p += 12 + length;
  }
  return null;
}
