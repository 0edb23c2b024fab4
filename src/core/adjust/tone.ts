import { decodeSrgb, encodeSrgb } from "../color/srgbCurve";
import { exp2, log2, pow } from "../numeric/elementary";
import { lightTable, toneTable } from "../color/toneCurve";
import { CURVE_NODES, ZONES } from "./adjustments";

/**
 * Factor on light by luminance, of five zones brightened by EV: at the centre of a zone its own EV, between two a smooth blend, beyond
 * the ends that of the outermost. The table is in octaves, as toneTable gives it.
 */
export function zoneTable(values: Record<string, number>): Float32Array {
  const { darkestEv } = values;
  const range = Math.max(0.1, values.brightestEv - darkestEv);
  const gains = ZONES.map((_, i) => values[`zone${i}`]);
  return toneTable((light) => {
    const at = Math.min(1, Math.max(0, (log2(light) - darkestEv) / range)) * (ZONES.length - 1);
    const k = Math.min(ZONES.length - 2, Math.floor(at));
    const t = at - k;
    return light * exp2(gains[k] + (gains[k + 1] - gains[k]) * t * t * (3 - 2 * t));
  });
}

/** What light becomes by a response of encoded values 0..1, by octaves of light as in toneTable; above white it moves on with white. */
export function encodedTable(response: (value: number) => number): Float32Array {
  return lightTable((light) => {
    const v = encodeSrgb(light);
    return decodeSrgb(Math.max(0, response(Math.min(1, v)) + Math.max(0, v - 1)));
  });
}

/** Black and white points moved in and out, with an exponent between. */
export function levelsResponse({ inLow, inHigh, gamma, outLow, outHigh }: Record<string, number>): (value: number) => number {
  const span = Math.max(1e-3, inHigh - inLow);
  return (value) => outLow + (outHigh - outLow) * pow(Math.min(1, Math.max(0, (value - inLow) / span)), 1 / gamma);
}

/** A curve through nodes that does not turn back between them. @see Fritsch, Carlson 1980 (slopes as the harmonic mean: Fritsch, Butland 1984) */
export function monotoneCurve(x: readonly number[], y: readonly number[]): (at: number) => number {
  const n = x.length;
  const secant = x.slice(1).map((v, i) => (y[i + 1] - y[i]) / (v - x[i]));
  const slope = x.map((_, i) => {
    if (i === 0) return secant[0];
    if (i === n - 1) return secant[n - 2];
    const [a, b] = [secant[i - 1], secant[i]];
    if (a * b <= 0) return 0;
    const [h0, h1] = [x[i] - x[i - 1], x[i + 1] - x[i]];
    const [w0, w1] = [2 * h1 + h0, h1 + 2 * h0];
    return (w0 + w1) / (w0 / a + w1 / b);
  });
  return (at) => {
    let k = 0;
    while (k < n - 2 && at > x[k + 1]) k++;
    const h = x[k + 1] - x[k];
    const t = Math.min(1, Math.max(0, (at - x[k]) / h));
    const [t2, t3] = [t * t, t * t * t];
    return (2 * t3 - 3 * t2 + 1) * y[k] + (t3 - 2 * t2 + t) * h * slope[k] + (3 * t2 - 2 * t3) * y[k + 1] + (t3 - t2) * h * slope[k + 1];
  };
}

export function curveResponse(values: Record<string, number>): (value: number) => number {
  return monotoneCurve(
    CURVE_NODES,
    CURVE_NODES.map((_, i) => values[`node${i}`]),
  );
}
