import { decodeSrgb, encodeSrgb } from "../color/srgbCurve";
import { exp2, log2, pow } from "../numeric/elementary";
import { lightTable, toneTable } from "../color/toneCurve";

/** Most zones and nodes of a curve. */
export const MOST_ZONES = 10;
export const MOST_NODES = 16;
/** Ends of the logarithmic scale of a curve, EV against white. */
export const LOG_CURVE_EV = [-12, 4];

/** EV that one tonal zone stands for. Common practice, no source. */
const ZONE_EV = 2;

/** How many tonal zones a range of light asks for, EV. */
export const zonesFor = (rangeEv: number): number => Math.min(MOST_ZONES, Math.max(3, Math.round(rangeEv / ZONE_EV) + 1));

/**
 * Factor on light by luminance, of zones brightened by EV: at the centre of a zone its own EV, between two a smooth blend, beyond
 * the ends that of the outermost. The table is in octaves, as toneTable gives it.
 */
export const zoneTable = (values: Record<string, number>): Float32Array => {
  const factor = zoneFactor(values);
  return toneTable((light) => light * factor(light));
};

/** The same factor of one luminance. */
export function zoneFactor(values: Record<string, number>): (light: number) => number {
  const { darkestEv } = values;
  const range = Math.max(0.1, values.brightestEv - darkestEv);
  const gains = Array.from({ length: values.zones }, (_, i) => values[`zone${i}`]);
  return (light) => {
    const at = Math.min(1, Math.max(0, (log2(light) - darkestEv) / range)) * (gains.length - 1);
    const k = Math.min(gains.length - 2, Math.floor(at));
    const t = at - k;
    return exp2(gains[k] + (gains[k + 1] - gains[k]) * t * t * (3 - 2 * t));
  };
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

/** Nodes nearer to the one before them than this are left out. */
const LEAST_APART = 1e-3;

/** The response of a curve through its nodes, level beyond the outermost. */
export function curveResponse(values: Record<string, number>): (value: number) => number {
  const nodes = Array.from({ length: values.nodes }, (_, i) => [values[`x${i}`], values[`y${i}`]])
    .sort((a, b) => a[0] - b[0])
    .filter(([x], i, all) => i === 0 || x - all[i - 1][0] >= LEAST_APART);
  if (nodes.length < 2) return () => nodes[0][1];
  return monotoneCurve(
    nodes.map((n) => n[0]),
    nodes.map((n) => n[1]),
  );
}

/** What light becomes by a curve, on its own scale: encoded values, or log light between LOG_CURVE_EV, beyond whose ends it moves on with them. */
export function curveTable(values: Record<string, number>): Float32Array {
  const response = curveResponse(values);
  if (!values.log) return encodedTable(response);
  const [from, to] = LOG_CURVE_EV;
  return lightTable((light) => {
    const at = (log2(light) - from) / (to - from);
    const held = Math.min(1, Math.max(0, at));
    return exp2(from + (to - from) * (response(held) + at - held));
  });
}
