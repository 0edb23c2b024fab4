import { workingToLab, type Lab } from "../color/colorDifference";
import { LUMINANCE, TO_REC709 } from "../color/primaries";
import { log2 } from "../numeric/elementary";
import type { Samples } from "./transfer";

/** Black, middle and white of what is shown, EV against white. */
export interface Ends {
  black: number;
  middle: number;
  white: number;
}

/** Colours of one part of the tone scale: its share, its mean a* and b*, mean C*ab, and the mean a* and b* of its least coloured fifth. */
export interface ToneColour {
  share: number;
  a: number;
  b: number;
  chroma: number;
  neutralA: number;
  neutralB: number;
}

/** What is compared of two sides. */
export interface MatchFigures {
  mono: Ends;
  channels: [Ends, Ends, Ends];
  /** dark, middle and light tones */
  tones: [ToneColour, ToneColour, ToneColour];
  /** L* at every tenth from 5 to 95 % of the samples */
  lightness: number[];
  /** share of samples that are glints or shine, and count for no white */
  glints: number;
}

/** Shares of samples at black, middle and white. Common practice, no source. */
const [BLACK, MIDDLE, WHITE] = [0.01, 0.5, 0.99];
/** What lies more than that over the brightest fifth, EV, is a glint or a lamp, as far as it is few. Common practice, no source. */
const [GLINT_EV, GLINTS_OF] = [1.5, 0.8];
const FEW = 0.03;
/** Ends of the middle tones, L*. */
const TONES = [35, 65];
/** What of the least coloured is taken for neutral. */
const NEUTRAL = 0.2;
/** Darkest light that is told, EV under white. */
const DARKEST_EV = -14;

const evOf = (light: number): number => Math.max(DARKEST_EV, log2(Math.max(1e-9, light)));

/** Black, middle and white in mono and by channel, colours by tone. Fewer than a hundred samples tell nothing. */
export function matchFigures(samples: Samples): MatchFigures | null {
  const { count, light } = samples;
  if (count < FEWEST) return null;
  const mono = new Float64Array(count);
  const labs: Lab[] = [];
  const channels = [0, 1, 2].map(() => new Float64Array(count));
  for (let i = 0; i < count; i++) {
    const rgb = [light[3 * i], light[3 * i + 1], light[3 * i + 2]];
    mono[i] = LUMINANCE[0] * rgb[0] + LUMINANCE[1] * rgb[1] + LUMINANCE[2] * rgb[2];
    for (let c = 0; c < 3; c++) channels[c][i] = Math.max(0, TO_REC709[3 * c] * rgb[0] + TO_REC709[3 * c + 1] * rgb[1] + TO_REC709[3 * c + 2] * rgb[2]);
    labs.push(workingToLab(rgb));
  }
  const sorted = mono.slice().sort();
  const limit = sorted[Math.floor(GLINTS_OF * count)] * 2 ** GLINT_EV;
  const over = sorted.length - firstOver(sorted, limit);
  // what many are is no glint
  const isGlint = over / count <= FEW ? (i: number) => mono[i] > limit : () => false;
  const kept = [...mono.keys()].filter((i) => !isGlint(i));
  const endsOf = (values: Float64Array): Ends => {
    const own = Float64Array.from(kept, (i) => values[i]).sort();
    const at = (share: number) => evOf(own[Math.min(own.length - 1, Math.round(share * (own.length - 1)))]);
    return { black: at(BLACK), middle: at(MIDDLE), white: at(WHITE) };
  };
  const byL = Float64Array.from(kept, (i) => labs[i][0]).sort();
  return {
    mono: endsOf(mono),
    channels: channels.map(endsOf) as MatchFigures["channels"],
    tones: [-Infinity, ...TONES].map((from, k) => {
      const to = [...TONES, Infinity][k];
      return toneColour(
        kept.map((i) => labs[i]).filter(([L]) => L >= from && L < to),
        kept.length,
      );
    }) as MatchFigures["tones"],
    lightness: Array.from({ length: 10 }, (_, k) => byL[Math.round((0.05 + 0.1 * k) * (byL.length - 1))]),
    glints: 1 - kept.length / count,
  };
}

export const FEWEST = 100;

function firstOver(sorted: Float64Array, limit: number): number {
  let at = sorted.length;
  while (at > 0 && sorted[at - 1] > limit) at--;
  return at;
}

function toneColour(labs: readonly Lab[], all: number): ToneColour {
  const mean = (of: readonly Lab[], k: 1 | 2) => (of.length ? of.reduce((s, l) => s + l[k], 0) / of.length : 0);
  const byChroma = labs.slice().sort((p, q) => Math.hypot(p[1], p[2]) - Math.hypot(q[1], q[2]));
  const neutral = byChroma.slice(0, Math.max(1, Math.round(NEUTRAL * byChroma.length)));
  return {
    share: labs.length / all,
    a: mean(labs, 1),
    b: mean(labs, 2),
    chroma: labs.length ? labs.reduce((s, [, a, b]) => s + Math.hypot(a, b), 0) / labs.length : 0,
    neutralA: mean(neutral, 1),
    neutralB: mean(neutral, 2),
  };
}

/** How far two sides are apart in tone: mean difference of L* at equal shares. */
export const toneDistance = (p: MatchFigures, q: MatchFigures): number =>
  p.lightness.reduce((s, v, k) => s + Math.abs(v - q.lightness[k]), 0) / p.lightness.length;

/** How far they are apart in colour: mean distance in a* and b* by tone, each as much as both have of it. */
export const colourDistance = (p: MatchFigures, q: MatchFigures): number => byTone(p, q, (s, t) => Math.hypot(s.a - t.a, s.b - t.b));

/** How far what is least coloured is apart, likewise. */
export const neutralDistance = (p: MatchFigures, q: MatchFigures): number =>
  byTone(p, q, (s, t) => Math.hypot(s.neutralA - t.neutralA, s.neutralB - t.neutralB));

function byTone(p: MatchFigures, q: MatchFigures, apart: (s: ToneColour, t: ToneColour) => number): number {
  let [sum, all] = [0, 0];
  p.tones.forEach((tone, k) => {
    const w = Math.min(tone.share, q.tones[k].share);
    sum += w * apart(tone, q.tones[k]);
    all += w;
  });
  return all > 0 ? sum / all : 0;
}
