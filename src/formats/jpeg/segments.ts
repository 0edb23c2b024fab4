import { message } from "../../messages/message";
import { asciiBytes, concatBytes } from "../bytes";
import { FormatError } from "../formatError";

const ICC_NAME = "ICC_PROFILE\0";

interface Segment {
  marker: number;
  data: Uint8Array;
}

/** The marker segments before the picture data. @see ITU-T T.81 annex B */
function segmentsOf(bytes: Uint8Array): Segment[] {
  if (bytes[0] !== 0xff || bytes[1] !== 0xd8) throw new FormatError("damaged", "jpeg.none");
  const found: Segment[] = [];
  let p = 2;
  while (p + 4 <= bytes.length && bytes[p] === 0xff) {
    const marker = bytes[p + 1];
    if (marker === 0xff) {
      p++;
      continue;
    }
    if (marker === 0xda || marker === 0xd9) break;
    const length = (bytes[p + 2] << 8) | bytes[p + 3];
    if (length < 2 || p + 2 + length > bytes.length) break;
    found.push({ marker, data: bytes.subarray(p + 4, p + 2 + length) });
    p += 2 + length;
  }
  return found;
}

/** A progressive picture is made by some ten passes over all of it; files that ask for many more keep a decoder busy for minutes. */
const MOST_SCANS = 100;
/** Passes times px. */
const MOST_WORK = 3e9;

/** Counts the passes over the picture before they are made. @see ITU-T T.81, B.1.1 @throws FormatError where they are too many */
export function checkJpegScans(bytes: Uint8Array, pixels: number): void {
  let scans = 0;
  for (let p = 2; p + 4 <= bytes.length;) {
    if (bytes[p] !== 0xff || bytes[p + 1] === 0 || bytes[p + 1] === 0xff) {
      p++;
      continue;
    }
    const marker = bytes[p + 1];
    if (marker === 0xd9) break;
    if (marker === 0x01 || (marker >= 0xd0 && marker <= 0xd7)) {
      p += 2;
      continue;
    }
    if (marker === 0xda) scans++;
    p += 2 + Math.max(2, (bytes[p + 2] << 8) | bytes[p + 3]);
  }
  if (scans > MOST_SCANS || scans * pixels > MOST_WORK) throw new FormatError("limit", message("jpeg.passes", { scans }));
}

/** Size and channels from the frame header, before anything is decoded. */
export function readJpegHeader(bytes: Uint8Array): { width: number; height: number; channels: number } {
  const frame = segmentsOf(bytes).find(({ marker }) => marker >= 0xc0 && marker <= 0xcf && marker !== 0xc4 && marker !== 0xc8 && marker !== 0xcc);
  if (!frame || frame.data.length < 6) throw new FormatError("damaged", "jpeg.damaged");
  const d = frame.data;
  return { height: (d[1] << 8) | d[2], width: (d[3] << 8) | d[4], channels: d[5] };
}

/** The embedded ICC profile, joined from its chunks, or null. @see ICC.1:2022 annex B.4 */
export function readJpegProfile(bytes: Uint8Array): Uint8Array | null {
  const name = asciiBytes(ICC_NAME);
  const chunks = segmentsOf(bytes)
    .filter(({ marker, data }) => marker === 0xe2 && data.length > 14 && name.every((v, i) => data[i] === v))
    .sort((a, b) => a.data[12] - b.data[12]);
  return chunks.length ? concatBytes(chunks.map(({ data }) => data.subarray(14))) : null;
}

/** Puts EXIF and an ICC profile into a JPEG that has none. */
export function spliceJpeg(jpeg: Uint8Array, exif: Uint8Array, profile: Uint8Array): Uint8Array {
  const segment = (marker: number, data: Uint8Array) => {
    const length = data.length + 2;
    if (length > 0xffff) throw new RangeError(`A JPEG segment holds at most 65533 bytes, got ${data.length}.`);
    return concatBytes([Uint8Array.from([0xff, marker, length >> 8, length & 255]), data]);
  };
  const icc = segment(0xe2, concatBytes([asciiBytes(ICC_NAME), Uint8Array.from([1, 1]), profile]));
  return concatBytes([jpeg.subarray(0, 2), segment(0xe1, exif), icc, jpeg.subarray(2)]);
}
