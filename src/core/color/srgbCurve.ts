import { pow } from "../numeric/elementary";

/** Encoded 0..1 → linear 0..1. @see IEC 61966-2-1 */
export function decodeSrgb(v: number): number {
  return v <= 0.04045 ? v / 12.92 : pow((v + 0.055) / 1.055, 2.4);
}

/** Linear, not negative → encoded; above 1 the power law goes on. @see IEC 61966-2-1 */
export function encodeSrgb(v: number): number {
  return v <= 0.0031308 ? 12.92 * v : 1.055 * pow(v, 1 / 2.4) - 0.055;
}
