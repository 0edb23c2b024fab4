/** Where a camera stood and looked, as it noted that itself; what it did not note is null. */
export interface ShotFrom {
  /** north and east are positive */
  latitudeDeg: number;
  longitudeDeg: number;
  /** clockwise from true north */
  headingDeg: number | null;
  /** hours of its clock over UTC */
  overUtcH: number | null;
}

/** What Marsh keeps of a frame's metadata. Missing entries are null. */
export interface ExifFacts {
  exposureTimeS: number | null;
  aperture: number | null;
  iso: number | null;
  focalLengthMm: number | null;
  /** as it would be on a frame of 24×36 mm of the same diagonal */
  focalLength35Mm: number | null;
  /** "2026:09:18 19:02:12.17" as written by the camera */
  takenAt: string | null;
  make: string | null;
  model: string | null;
  copyright: string | null;
  /** program that wrote the file, with its version */
  software: string | null;
  orientation: number;
  /** absent where it noted no place */
  shotFrom?: ShotFrom;
}

export const NO_EXIF: ExifFacts = {
  exposureTimeS: null,
  aperture: null,
  iso: null,
  focalLengthMm: null,
  focalLength35Mm: null,
  takenAt: null,
  make: null,
  model: null,
  copyright: null,
  software: null,
  orientation: 1,
};

/**
 * Exposure at ISO 100 in EV as light reaching the sensor: log2(t · ISO/100 / N²). Higher is brighter.
 * The ladder of full stops is exact (1/125 stands for 1/128 s), so labels are snapped to the third-stop ladder first.
 * @returns null where a value is missing
 */
export function exposureEvOf(exif: ExifFacts): number | null {
  if (!exif.exposureTimeS || !exif.aperture || !exif.iso) return null;
  const third = (v: number) => {
    const snapped = Math.round(v * 3) / 3;
    return Math.abs(snapped - v) < 0.12 ? snapped : v;
  };
  return third(Math.log2(exif.exposureTimeS)) + third(Math.log2(exif.iso / 100)) - third(2 * Math.log2(exif.aperture));
}
