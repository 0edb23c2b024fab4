import ExifReader from "exifreader";
import { NO_EXIF, type ExifFacts } from "./exif";

/** Reads the facts Marsh uses; a file without or with damaged metadata gives empty facts, never an error. */
export function readExif(bytes: Uint8Array): ExifFacts {
  let tags: Record<string, { value?: unknown; description?: string } | undefined>;
  try {
    // a file of its own needs no copy, which may take as much again
    const own = bytes.byteLength === bytes.buffer.byteLength ? bytes.buffer : bytes.slice().buffer;
    tags = ExifReader.load(own as ArrayBuffer, { expanded: false }) as unknown as typeof tags;
  } catch {
    return { ...NO_EXIF };
  }
  const number = (name: string): number | null => {
    const value = tags[name]?.value;
    if (Array.isArray(value) && value.length === 2 && typeof value[0] === "number") return value[1] ? value[0] / (value[1] as number) : null;
    const single = Array.isArray(value) ? value[0] : value;
    return typeof single === "number" && Number.isFinite(single) ? single : null;
  };
  const text = (name: string): string | null => {
    const value = tags[name]?.value;
    const joined = Array.isArray(value) ? value.join("") : value;
    return typeof joined === "string" && joined.trim() ? joined.trim().slice(0, 200) : null;
  };
  const positive = (v: number | null) => (v !== null && v > 0 ? v : null);
  const date = text("DateTimeOriginal");
  const fraction = text("SubSecTimeOriginal");
  return {
    exposureTimeS: positive(number("ExposureTime")),
    aperture: positive(number("FNumber")),
    iso: positive(number("ISOSpeedRatings") ?? number("PhotographicSensitivity")),
    focalLengthMm: positive(number("FocalLength")),
    focalLength35Mm: positive(number("FocalLengthIn35mmFilm")),
    takenAt: date ? (fraction ? `${date}.${fraction}` : date) : null,
    make: text("Make"),
    model: text("Model"),
    copyright: text("Copyright"),
    software: text("Software"),
    orientation: number("Orientation") ?? 1,
  };
}
