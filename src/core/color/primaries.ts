import { invert, multiply, transform, type Matrix3 } from "../geometry/matrix3";

export type Chromaticity = readonly [x: number, y: number];

export interface Primaries {
  red: Chromaticity;
  green: Chromaticity;
  blue: Chromaticity;
  white: Chromaticity;
}

/** CIE 15: D65 for the 2° observer, as rounded in IEC 61966-2-1 and ITU-R BT.2020. */
export const D65: Chromaticity = [0.3127, 0.329];
/** ICC.1:2022: the profile connection space illuminant, X 0.9642, Y 1, Z 0.8249. */
export const D50_XYZ: readonly [number, number, number] = [0.9642, 1, 0.8249];

export const REC709: Primaries = { red: [0.64, 0.33], green: [0.3, 0.6], blue: [0.15, 0.06], white: D65 };
export const REC2020: Primaries = { red: [0.708, 0.292], green: [0.17, 0.797], blue: [0.131, 0.046], white: D65 };
export const DISPLAY_P3: Primaries = { red: [0.68, 0.32], green: [0.265, 0.69], blue: [0.15, 0.06], white: D65 };

export function xyzOfChromaticity([x, y]: Chromaticity): [number, number, number] {
  return [x / y, 1, (1 - x - y) / y];
}

/** Linear RGB → XYZ (Y of white = 1). @see SMPTE RP 177, the derivation from primaries and white */
export function rgbToXyz(p: Primaries): number[] {
  const [r, g, b] = [p.red, p.green, p.blue].map(xyzOfChromaticity);
  const columns = [r[0], g[0], b[0], r[1], g[1], b[1], r[2], g[2], b[2]];
  const s = transform(invert(columns), xyzOfChromaticity(p.white));
  return columns.map((v, i) => v * s[i % 3]);
}

const BRADFORD: Matrix3 = [0.8951, 0.2664, -0.1614, -0.7502, 1.7135, 0.0367, 0.0389, -0.0685, 1.0296];

/** Chromatic adaptation between two whites given as XYZ. @see ICC.1:2022 annex E (linear Bradford) */
export function adaptation(from: readonly number[], to: readonly number[]): number[] {
  const a = transform(BRADFORD, from);
  const b = transform(BRADFORD, to);
  const scale = [b[0] / a[0], 0, 0, 0, b[1] / a[1], 0, 0, 0, b[2] / a[2]];
  return multiply(invert(BRADFORD), multiply(scale, BRADFORD));
}

/** Linear RGB of one space → linear RGB of another, both with white D65. */
export function rgbToRgb(from: Primaries, to: Primaries): number[] {
  return multiply(invert(rgbToXyz(to)), rgbToXyz(from));
}

/** Working light to the channels of Rec. 709, in which most pictures come, and back. */
export const TO_REC709 = rgbToRgb(REC2020, REC709);
export const FROM_REC709 = rgbToRgb(REC709, REC2020);

/** The working space: linear Rec. 2020. Luminance weights are the middle row of its matrix. */
export const WORKING_TO_XYZ = rgbToXyz(REC2020);
export const LUMINANCE: readonly [number, number, number] = [0.2627, 0.678, 0.0593];
