import { toneResponse, type ToneValues } from "../color/toneCurve";
import { encodeSrgb } from "../color/srgbCurve";
import { exp2, log2 } from "../numeric/elementary";

/** Characters that a first rendering is offered in. */
export const CHARACTERS = ["true", "soft", "rich"] as const;
export type Character = (typeof CHARACTERS)[number];

/** Light of a picture at shares of its samples, EV against white, and what is measured of its scene. */
export interface LightFigures {
  /** that 0.1, 1, 50, 99 and 99.95 % of the samples lie below */
  deepest: number;
  dark: number;
  middle: number;
  light: number;
  brightest: number;
  /** mean of log2 light */
  mean: number;
}

export function lightFigures(light: ArrayLike<number>): LightFigures {
  const ev = Float64Array.from(light, (v) => log2(Math.max(DARKEST, v))).sort();
  const at = (share: number) => ev[Math.min(ev.length - 1, Math.floor(share * ev.length))];
  return { deepest: at(0.001), dark: at(0.01), middle: at(0.5), light: at(0.99), brightest: at(0.9995), mean: ev.reduce((s, v) => s + v, 0) / ev.length };
}
const DARKEST = 2 ** -20;

/** What a character wants: the range of light that a screen shows well, EV; contrast, chroma, where black and white begin to bend, and how much its mean differs. Common practice, no source. */
const WANTS: Record<Character, { rangeEv: number; contrast: number; chroma: number; toeLiftEv: number; shoulderEv: number; lighter: number }> = {
  true: { rangeEv: 7.6, contrast: 1.05, chroma: 1.05, toeLiftEv: 0, shoulderEv: 2.5, lighter: 0 },
  soft: { rangeEv: 6.8, contrast: 0.94, chroma: 0.95, toeLiftEv: 1.2, shoulderEv: 3.2, lighter: 0.02 },
  rich: { rangeEv: 8.8, contrast: 1.16, chroma: 1.16, toeLiftEv: -0.8, shoulderEv: 2.2, lighter: -0.02 },
};

/** Mean encoded light of pictures by the light of their scene, cd/m²: night stays night. Common practice, no source; under 0.35 by night. */
const KEYS: [candelas: number, mean: number][] = [
  [0.03, 0.2],
  [1, 0.28],
  [10, 0.34],
  [80, 0.41],
  [1000, 0.46],
];

/** Light of a grey that a meter holds for the middle, cd/m² at EV 0 and ISO 100, and its share of white. @see ISO 2720, K = 12.5 */
const [METERED, GREY] = [0.125, 0.18];

/** Mean luminance of a scene, cd/m². @param ev100 of the frame whose white is 1: log2(N²/t) − log2(ISO/100) */
export const sceneCandelas = ({ mean }: LightFigures, ev100: number): number => (METERED / GREY) * exp2(ev100 + mean);

/** Mean encoded light that a picture ought to have. @param candelas of its scene; null: not known, and its own light tells whether it is a dark one */
export function wantedMean(figures: LightFigures, candelas: number | null): number {
  if (candelas === null) {
    // how far from its darkest its mean lies: a low or a high key, see Reinhard 2002, "Parameter estimation for photographic tone reproduction"
    const key = (figures.mean - figures.dark) / Math.max(0.5, figures.light - figures.dark);
    return 0.24 + 0.24 * Math.min(1, Math.max(0, (key - 0.25) / 0.5));
  }
  const lg = log2(Math.max(1e-6, candelas));
  const k = KEYS.findIndex(([c]) => log2(c) > lg);
  if (k === 0) return KEYS[0][1];
  if (k < 0) return KEYS[KEYS.length - 1][1];
  const [[c0, m0], [c1, m1]] = [KEYS[k - 1], KEYS[k]];
  return m0 + ((lg - log2(c0)) / (log2(c1) - log2(c0))) * (m1 - m0);
}

/** Values of the steps of a finish. */
export interface RenderingValues {
  localTone: { strength: number; scale: number; floorEv: number; ceilingEv: number; pivotEv: number };
  exposure: { ev: number };
  contrast: { factor: number; pivot: number };
  chroma: { factor: number };
  toneResponse: ToneValues;
}

const SCALE = 0.06;
const MOST_STRENGTH = 0.8;

/** How strongly a range of light is evened out for a character: not at all where a screen shows all of it. */
export const wantedStrength = (character: Character, { dark, light }: LightFigures): number =>
  Math.min(MOST_STRENGTH, Math.max(0, 1 - WANTS[character].rangeEv / Math.max(1, light - dark)));

/** Local tone of a strength, about what lies in the middle. */
export const localToneOf = (strength: number, { deepest, dark, middle, brightest }: LightFigures): RenderingValues["localTone"] => ({
  strength: round(strength, 0.01),
  scale: SCALE,
  floorEv: round(Math.min(0, Math.max(-14, Math.min(dark, deepest + 1))), 0.1),
  ceilingEv: round(Math.min(12, Math.max(-2, brightest)), 0.1),
  pivotEv: round(Math.min(4, Math.max(-8, middle)), 0.1),
});

/** Lamps and the sun are light themselves: what is that much brighter than nearly all may be white, EV. */
const LAMPS_EV = 5;
/** What was made for a screen goes half the way, and is darkened by no more than that, EV: it was meant so. Common practice, no source. */
const [HALFWAY, LEAST_SHOWN_EV] = [0.5, -0.3];

/**
 * What brings light, evened out already, to a screen in a character: exposure so that the mean has its place, white where nearly all light ends, black where it begins.
 * What was made for a screen already is moved no further than its ends have room.
 * @param light luminance samples, evened out @param mean encoded mean that is wanted @param isSceneLight whether that was not yet brought to a screen
 */
export function renderLight(character: Character, light: Float32Array, mean: number, isSceneLight: boolean): Omit<RenderingValues, "localTone"> {
  const want = WANTS[character];
  const figures = lightFigures(light);
  const top = Math.min(figures.brightest, figures.light + LAMPS_EV);
  const at = (ev: number): Omit<RenderingValues, "localTone"> => {
    const exposed = figures.middle + ev;
    const deepest = figures.deepest + ev;
    return {
      exposure: { ev },
      contrast: { factor: want.contrast, pivot: Math.min(1.5, Math.max(0.005, round(exp2(exposed), 0.005))) },
      chroma: { factor: want.chroma },
      toneResponse: {
        curve: 1,
        headroomEv: round(Math.min(16, Math.max(0.2, (top - figures.middle) * want.contrast + exposed)), 0.1),
        shoulderEv: want.shoulderEv,
        toeEv: round(Math.min(12, Math.max(want.shoulderEv + 1.5, -deepest - 3)), 0.1),
        toeLiftEv: want.toeLiftEv,
      },
    };
  };
  if (!isSceneLight) {
    const room = Math.max(0, -figures.brightest);
    // encoded light goes about as the root of light
    const asked = HALFWAY * 2 * log2(Math.max(0.05, mean + want.lighter) / meanEncoded(light));
    return at(round(Math.min(room, Math.max(LEAST_SHOWN_EV, asked)), 0.05));
  }
  let [low, high] = [-8, 8];
  for (let k = 0; k < 24; k++) {
    const ev = (low + high) / 2;
    if (meanShown(light, at(ev)) < mean + want.lighter) low = ev;
    else high = ev;
  }
  return at(round((low + high) / 2, 0.05));
}

const meanEncoded = (light: Float32Array): number => Math.max(0.01, light.reduce((s, v) => s + encodeSrgb(Math.min(1, v)), 0) / light.length);

/** Mean encoded light as the steps make it, luminance alone. */
function meanShown(light: Float32Array, { exposure, contrast, toneResponse: tone }: Omit<RenderingValues, "localTone">): number {
  const [gain, response] = [exp2(exposure.ev), toneResponse(tone)];
  let sum = 0;
  for (const v of light) {
    const exposed = Math.max(1e-7, v * gain);
    sum += encodeSrgb(Math.min(1, response(contrast.pivot * exp2(contrast.factor * log2(exposed / contrast.pivot)))));
  }
  return sum / light.length;
}

const round = (value: number, step: number): number => Number((Math.round(value / step) * step).toFixed(3));
