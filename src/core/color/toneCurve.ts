import { exp2, log2 } from "../numeric/elementary";

/** Octaves of light that a table of the tone response spans, from 2^LOWEST_OCTAVE, and its nodes in each. */
export const LOWEST_OCTAVE = -24;
export const OCTAVES = 40;
export const NODES = 256;

/** How scene light becomes light for a screen; all in EV against scene white. */
export interface ToneValues {
  /** 0: Reinhard's curve, 1: straight with toe and shoulder */
  curve: number;
  /** light this far above white becomes white */
  headroomEv: number;
  /** the shoulder begins this far below white */
  shoulderEv: number;
  /** the toe begins this far below white */
  toeEv: number;
  /** the darkest parts, four EV below where the toe begins, are raised by this; negative deepens them */
  toeLiftEv: number;
}

/** EV over which the toe bends. */
const TOE_SPAN_EV = 4;

/**
 * Light on the screen, 0..1, of scene light.
 * Reinhard: Reinhard et al. 2002, equation 4. With toe and shoulder: log light is kept between the two, and bent at either end by a
 * rational quadratic that never turns back (Gregory and Delbourgo 1982, form recalled from memory); monotone for any setting.
 */
export function toneResponse(values: ToneValues): (light: number) => number {
  const white = exp2(values.headroomEv);
  if (values.curve !== 1) return (m) => (m * (1 + m / (white * white))) / (1 + m);
  const shoulder = -Math.max(0.01, values.shoulderEv);
  const toe = Math.min(shoulder - 0.01, -values.toeEv);
  const bottom = toe - TOE_SPAN_EV;
  // more than the span cannot be raised, or dark and light would change places
  const lift = Math.min(TOE_SPAN_EV * 0.9, Math.max(-12, values.toeLiftEv));
  return (m) => {
    if (m <= 0) return 0;
    const e = log2(m);
    if (e >= values.headroomEv) return 1;
    if (e > shoulder) return exp2(bend(e, shoulder, shoulder, 1, values.headroomEv, 0, 0));
    if (e >= toe) return m;
    if (e > bottom) return exp2(bend(e, bottom, bottom + lift, 1, toe, toe, 1));
    return exp2(e + lift);
  };
}

/** Rises from (x0, y0) with slope d0 to (x1, y1) with slope d1. */
function bend(x: number, x0: number, y0: number, d0: number, x1: number, y1: number, d1: number): number {
  const t = (x - x0) / (x1 - x0);
  const secant = (y1 - y0) / (x1 - x0);
  const u = t * (1 - t);
  return y0 + ((y1 - y0) * (secant * t * t + d0 * u)) / (secant + (d0 + d1 - 2 * secant) * u);
}

/** What light becomes, by octaves of light, NODES each, and one node more at the end. */
export function lightTable(response: (light: number) => number): Float32Array {
  return Float32Array.from({ length: OCTAVES * NODES + 1 }, (_, i) => response(exp2(LOWEST_OCTAVE + Math.floor(i / NODES)) * (1 + (i % NODES) / NODES)));
}

/** The same as a factor on light. */
export function toneTable(response: (light: number) => number): Float32Array {
  return lightTable((light) => response(light) / light);
}
