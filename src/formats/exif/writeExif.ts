import { asciiBytes, concatBytes } from "../bytes";
import { buildIfd, type IfdEntry } from "../tiff/ifd";
import type { ExifFacts } from "./exif";

/**
 * The entries that remain true for a picture made of several frames: camera, lens, aperture, date of the reference frame,
 * rights. Exposure time and sensitivity belong to single frames and are left out. @see Exif 2.32, tables 4 and 8
 */
export function survivingExif(exif: ExifFacts): IfdEntry[] {
  const entries: IfdEntry[] = [
    { tag: 0x0112, value: { type: "short", values: [1] } },
    { tag: 0x0131, value: { type: "ascii", text: "Marsh" } },
  ];
  if (exif.make) entries.push({ tag: 0x010f, value: { type: "ascii", text: exif.make } });
  if (exif.model) entries.push({ tag: 0x0110, value: { type: "ascii", text: exif.model } });
  if (exif.copyright) entries.push({ tag: 0x8298, value: { type: "ascii", text: exif.copyright } });
  const details: IfdEntry[] = [{ tag: 0x9000, value: { type: "undefined", bytes: asciiBytes("0232") } }];
  const rational = (tag: number, v: number | null) => {
    if (v) details.push({ tag, value: { type: "rational", values: [[Math.round(v * 100), 100]] } });
  };
  rational(0x829d, exif.aperture);
  rational(0x920a, exif.focalLengthMm);
  if (exif.takenAt) {
    const [date, fraction] = exif.takenAt.split(".");
    details.push({ tag: 0x9003, value: { type: "ascii", text: date } });
    if (fraction) details.push({ tag: 0x9291, value: { type: "ascii", text: fraction } });
  }
  entries.push({ tag: 0x8769, value: { type: "ifd", entries: details } });
  return entries;
}

/** The APP1 payload of a JPEG: "Exif", two zeros, a little-endian TIFF. */
export function exifSegment(entries: IfdEntry[]): Uint8Array {
  const header = Uint8Array.from([0x49, 0x49, 0x2a, 0, 8, 0, 0, 0]);
  return concatBytes([asciiBytes("Exif\0\0"), header, buildIfd(entries, 8)]);
}
