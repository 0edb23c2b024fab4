import { monotoneCurve } from "../adjust/tone";
import { decodeSrgb, encodeSrgb } from "../color/srgbCurve";

/** Samples of a picture, linear working light: red, green and blue one after the other. */
export interface Samples {
  count: number;
  light: Float32Array;
}

/** A curve on encoded values 0..1 through nodes; above white it goes on with white. */
export interface Curve {
  x: number[];
  y: number[];
}

/** What turns one picture's light into another's: channels mixed, a curve on each, and mixed again. */
export interface Transfer {
  /** working light → the channels that the curves work on */
  mix: number[];
  curves: [Curve, Curve, Curve];
  /** those channels → working light */
  back: number[];
}

/** Steps at which a curve is looked up. */
const STEPS = 4096;

/** A curve as a table over encoded values 0..1. */
export function tableOf({ x, y }: Curve): Float32Array {
  const response = monotoneCurve(x, y);
  return Float32Array.from({ length: STEPS + 1 }, (_, i) => response(i / STEPS));
}

export const lookUp = (table: Float32Array, encoded: number): number => {
  const at = Math.min(1, Math.max(0, encoded)) * STEPS;
  const i = Math.min(STEPS - 1, Math.floor(at));
  return table[i] + (table[i + 1] - table[i]) * (at - i) + Math.max(0, encoded - 1);
};

/** Light as a transfer makes it. */
export function applyTransfer({ count, light }: Samples, { mix, curves, back }: Transfer): Samples {
  const tables = curves.map(tableOf);
  const out = new Float32Array(light.length);
  const own = [0, 0, 0];
  for (let i = 0; i < 3 * count; i += 3) {
    for (let c = 0; c < 3; c++) {
      const v = mix[3 * c] * light[i] + mix[3 * c + 1] * light[i + 1] + mix[3 * c + 2] * light[i + 2];
      own[c] = decodeSrgb(Math.max(0, lookUp(tables[c], encodeSrgb(Math.max(0, v)))));
    }
    for (let c = 0; c < 3; c++) out[i + c] = Math.max(0, back[3 * c] * own[0] + back[3 * c + 1] * own[1] + back[3 * c + 2] * own[2]);
  }
  return { count, light: out };
}
