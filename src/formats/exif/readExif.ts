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
  /** Degrees, minutes and seconds as one figure. */
  const degrees = (name: string): number | null => {
    const parts = tags[name]?.value;
    if (!Array.isArray(parts) || parts.length !== 3) return null;
    const [d, m, s] = (parts as [number, number][]).map((p) => (Array.isArray(p) && p[1] ? p[0] / p[1] : NaN));
    const sum = d + m / 60 + s / 3600;
    return Number.isFinite(sum) ? sum : null;
  };
  const signed = (name: string, most: number, negative: string): number | null => {
    const [value, side] = [degrees(name), text(`${name}Ref`)];
    return value === null || value > most || side === null ? null : side.toUpperCase().startsWith(negative) ? -value : value;
  };
  const [latitudeDeg, longitudeDeg, heading] = [signed("GPSLatitude", 90, "S"), signed("GPSLongitude", 180, "W"), number("GPSImgDirection")];
  const offset = text("OffsetTimeOriginal")?.match(/^([+-])(\d\d):(\d\d)$/);
  const shotFrom = latitudeDeg !== null &&
    longitudeDeg !== null && {
      latitudeDeg,
      longitudeDeg,
      // one towards magnetic north is off by what nobody noted
      headingDeg: heading !== null && heading >= 0 && heading <= 360 && text("GPSImgDirectionRef") === "T" ? heading : null,
      overUtcH: offset ? Number(`${offset[1]}1`) * (Number(offset[2]) + Number(offset[3]) / 60) : null,
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
    ...(shotFrom && { shotFrom }),
  };
}
