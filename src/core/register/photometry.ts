import { decodeSrgb, encodeSrgb } from "../color/srgbCurve";

/**
 * Brings two frames of different exposure to a common scale: both are shown as the brighter one would be.
 * Grey values 0..65535 go in, encoded 0..1 (somewhat above 1 where the darker frame sees more) come out.
 */
export interface Photometry {
  fixed: Float32Array;
  moving: Float32Array;
}

const STEPS = 2048;

/** @param relativeEv exposure of the moving frame against the fixed one, in EV */
export function createPhotometry(relativeEv: number): Photometry {
  const tableOf = (scale: number) => Float32Array.from({ length: STEPS + 2 }, (_, i) => encodeSrgb(Math.min(2, decodeSrgb(i / STEPS) * scale)));
  const ratio = 2 ** relativeEv;
  return { fixed: tableOf(Math.max(1, ratio)), moving: tableOf(Math.max(1, 1 / ratio)) };
}

/** Table value at a grey value 0..65535, linear between entries. */
export function lookUp(table: Float32Array, grey: number): number {
  const p = grey * (STEPS / 65535);
  const i = p < 0 ? 0 : p >= STEPS ? STEPS - 1 : p | 0;
  return table[i] + (table[i + 1] - table[i]) * (p - i);
}

/** How steep a table is at a grey value, per unit of grey. */
export function slopeAt(table: Float32Array, grey: number): number {
  const p = grey * (STEPS / 65535);
  const i = p < 0 ? 0 : p >= STEPS ? STEPS - 1 : p | 0;
  return (table[i + 1] - table[i]) * (STEPS / 65535);
}

/** Grey values outside carry no usable light: clipped above, lost in noise and quantisation below. */
export const USABLE_LOW = 900;
export const USABLE_HIGH = 63000;
