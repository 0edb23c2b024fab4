import { zoneFactor, zonesFor } from "../adjust/tone";
import { FROM_REC709, LUMINANCE, TO_REC709 } from "../color/primaries";
import { log2 } from "../numeric/elementary";
import { quantile } from "../numeric/statistics";
import { angleBetween, type Illuminant } from "../color/illuminant";
import { proposeWhiteBalance, whiteBalanceMatrix, type WhiteBalance } from "../color/whiteBalance";
import { transform } from "../geometry/matrix3";
import { balanceByTone, scaleChroma } from "../adjust/colour";
import { fromOklab, toOklab } from "../color/oklab";
import { colourDistance, matchFigures, neutralDistance, toneDistance, type MatchFigures, type ToneColour } from "./figures";
import type { Samples } from "./transfer";

/** The steps of a match, in the order that works. */
export const MATCH_STEPS = ["light", "tone", "cast", "chroma", "grain"] as const;
export type MatchStep = (typeof MATCH_STEPS)[number];
/** Those that change what single samples show. */
type ColourStep = Exclude<MatchStep, "grain">;
type ColourAdjustment = Exclude<StepProposal["adjustment"], "grain">;
export type ColourStepProposal = StepProposal & { adjustment: ColourAdjustment };

/** What a step proposes: an ordinary adjustment with its values, and how far both sides are apart before and after it. */
export interface StepProposal {
  step: MatchStep;
  adjustment: "whiteBalance" | "zones" | "balance" | "chroma" | "grain";
  values: Record<string, number>;
  /** how far both sides are apart in what the step works on: mean a* and b* by tone, mean difference of L* at equal shares, a* and b* of what is neutral, mean chroma, or deviations of noise in 8-bit steps */
  before: number;
  after: number;
}

/** A step that gains less, L* or ΔE, is not proposed. Common practice, no source. */
const WORTH = 0.3;
/** A curve is nowhere steeper or flatter than that, times. Common practice, no source. */
const STEEPEST = 3;

/**
 * The steps that bring one side to another, each after the one before: the light both were taken in; black, middle and white in mono; what is neutral, by tone; chroma.
 * @param strength how much of the way each goes, 0..1 @param lights of both sides, where they are told @returns those that are worth it; null where a side tells nothing
 */
export function matchSteps(from: Samples, to: MatchFigures, strength = 1, lights: readonly (Illuminant | null)[] = []): ColourStepProposal[] | null {
  let [samples, figures] = [from, matchFigures(from)];
  if (!figures) return null;
  const found: ColourStepProposal[] = [];
  const take = (step: ColourStep, adjustment: ColourAdjustment, values: Record<string, number>): void => {
    const next = applyStep(samples, adjustment, values);
    const after = matchFigures(next)!;
    const [before, now] = [APART[step](figures!, to), APART[step](after, to)];
    if (before - now < WORTH) return;
    found.push({ step, adjustment, values, before, after: now });
    [samples, figures] = [next, after];
  };
  const light = otherLight(lights);
  if (light) take("light", "whiteBalance", { mired: strength * light.mired, duv: strength * light.duv });
  take("tone", "zones", toneZones(samples, figures, to, strength));
  // chroma strengthens what is left of a cast: the cast is judged as chroma will leave it
  const first = applyStep(samples, "balance", castBalance(samples, figures, to, strength, null));
  const chroma = { factor: chromaFactor(matchFigures(first)!, to, strength), protect: 0, space: 0 };
  const isWorth = APART.chroma(matchFigures(first)!, to) > WORTH ? chroma : null;
  const cast = castBalance(samples, figures, to, strength, isWorth);
  take("cast", "balance", cast);
  take("chroma", "chroma", chroma);
  return found;
}

/** Lights that both are told with at least that confidence together, and that are so far apart, degrees, are others. Common practice, no source. */
const [SURE, OTHER_DEG] = [0.15, 4];

/** The white balance that makes of what is neutral in one light what is so in another; null where they are not told, or alike. */
function otherLight([own, wanted]: readonly (Illuminant | null)[]): WhiteBalance | null {
  if (!own || !wanted || own.confidence * wanted.confidence < SURE || angleBetween(own.rgb, wanted.rgb) < OTHER_DEG) return null;
  return proposeWhiteBalance(transform(FROM_REC709, [own.rgb[0] / wanted.rgb[0], 1, own.rgb[2] / wanted.rgb[2]]));
}

const meanChroma = (f: MatchFigures): number => f.tones.reduce((s, t) => s + t.share * t.chroma, 0);
/** How far both sides are apart in what a step works on. */
const APART: Record<ColourStep, (p: MatchFigures, q: MatchFigures) => number> = {
  light: colourDistance,
  tone: toneDistance,
  cast: neutralDistance,
  chroma: (p, q) => Math.abs(meanChroma(p) - meanChroma(q)),
};

/** Light of a lightness, EV under white. @see CIE 15 */
const evOfL = (L: number): number => log2(Math.max(DARKEST, L > 8 ? ((L + 16) / 116) ** 3 : (L * 27) / 24389));
const DARKEST = 2 ** -12;

/** Light at a share of the samples, EV, between tenths. */
function evAt(lightness: readonly number[], share: number): number {
  const at = Math.min(9, Math.max(0, (share - 0.05) * 10));
  const k = Math.min(8, Math.floor(at));
  return evOfL(lightness[k]) + (at - k) * (evOfL(lightness[k + 1]) - evOfL(lightness[k]));
}

/** The share of the samples at which a light lies. */
function shareOf(lightness: readonly number[], ev: number): number {
  let k = 0;
  while (k < 8 && evOfL(lightness[k + 1]) < ev) k++;
  const [low, high] = [evOfL(lightness[k]), evOfL(lightness[k + 1])];
  return 0.05 + 0.1 * (k + Math.min(1, Math.max(0, high > low ? (ev - low) / (high - low) : 0.5)));
}

/** Zones by luminance, so that no colour turns, that bring light at equal shares of the samples to the other side's; nothing that was not clipped becomes so. */
function toneZones(samples: Samples, own: MatchFigures, to: MatchFigures, strength: number): Record<string, number> {
  const darkestEv = Math.min(-2, Math.max(-16, evAt(own.lightness, 0.05)));
  const brightestEv = Math.min(10, Math.max(-6, darkestEv + 1, evAt(own.lightness, 0.95)));
  const zones = zonesFor(2 * (brightestEv - darkestEv));
  const apart = (brightestEv - darkestEv) / (zones - 1);
  const room = roomIn(samples, darkestEv, apart, zones);
  const gains = room.map((most, k) => {
    const ev = darkestEv + k * apart;
    const wanted = strength * (evAt(to.lightness, shareOf(own.lightness, ev)) - ev);
    return Math.min(most, Math.min(MOST_GAIN, Math.max(-MOST_GAIN, wanted)));
  });
  // between zones neither too steep nor too flat: what is too bright gives way
  for (let k = 1; k < zones; k++) {
    const [flat, steep] = [gains[k - 1] - apart * (1 - 1 / STEEPEST), gains[k - 1] + apart * (STEEPEST - 1)];
    gains[k] = Math.min(room[k], Math.max(flat, Math.min(steep, gains[k])));
  }
  for (let k = zones - 2; k >= 0; k--) gains[k] = Math.min(gains[k], gains[k + 1] + apart * (1 - 1 / STEEPEST));
  return { darkestEv, brightestEv, zones, ...Object.fromEntries(gains.map((gain, k) => [`zone${k}`, gain])) };
}

const MOST_GAIN = 4;
/** Of the samples of a zone, so many keep all channels within white. */
const KEPT = 0.995;

/** How far the light of each zone may rise, EV, before a channel is clipped; what is clipped already may stay. */
function roomIn({ count, light }: Samples, darkestEv: number, apart: number, zones: number): number[] {
  const widest: number[][] = Array.from({ length: zones }, () => []);
  for (let i = 0; i < 3 * count; i += 3) {
    const luminance = LUMINANCE[0] * light[i] + LUMINANCE[1] * light[i + 1] + LUMINANCE[2] * light[i + 2];
    let most = 0;
    for (let c = 0; c < 3; c++) most = Math.max(most, TO_REC709[3 * c] * light[i] + TO_REC709[3 * c + 1] * light[i + 1] + TO_REC709[3 * c + 2] * light[i + 2]);
    if (!(luminance > 0) || most >= 1) continue;
    const at = Math.min(zones - 1, Math.max(0, (log2(luminance) - darkestEv) / apart));
    // a zone reaches to its neighbours
    for (const k of new Set([Math.floor(at), Math.ceil(at)])) widest[k].push(most);
  }
  return widest.map((values) => (values.length ? Math.max(0, -log2(Math.max(1e-6, quantile(values, KEPT)))) : 0));
}

/** Tones of which there is so little tell no cast, nor do those whose least coloured is so coloured, C*ab: nothing there is known to be neutral. They take their neighbours'. Common practice, no source. */
const TELLS = 0.03;
const TOO_COLOURED = 9;
const NAMES = ["dark", "middle", "light"] as const;
const [MOST_MIRED, MOST_DUV] = [80, 0.012];

const isNeutral = (t: ToneColour): boolean => t.share >= TELLS && Math.hypot(t.neutralA, t.neutralB) < TOO_COLOURED;

/** How far what is neutral of one side lies off the other's, mean a* and b* over the tones in which both tell it; where they have none in common, over those of each. */
export function neutralShift(own: MatchFigures, to: MatchFigures): [number, number] {
  const meanOf = ({ tones }: MatchFigures, weights: readonly number[]): [number, number] => {
    const all = weights.reduce((s, w) => s + w, 0);
    return [tones.reduce((s, t, k) => s + weights[k] * t.neutralA, 0) / all, tones.reduce((s, t, k) => s + weights[k] * t.neutralB, 0) / all];
  };
  const [mine, theirs] = [own, to].map(({ tones }) => tones.map((t) => (isNeutral(t) ? t.share : 0)));
  const both = mine.map((w, k) => Math.min(w, theirs[k]));
  const [p, q] = both.some((w) => w > 0) ? [both, both] : [mine, theirs];
  if (p.every((w) => w === 0) || q.every((w) => w === 0)) return [0, 0];
  const [a, b] = [meanOf(own, p), meanOf(to, q)];
  return [a[0] - b[0], a[1] - b[1]];
}

/** Another light by tone that brings what is least coloured here to what is least coloured there: a neutral leaves neutral no further than the other side's do. @param then chroma that is laid after it */
function castBalance(samples: Samples, own: MatchFigures, to: MatchFigures, strength: number, then: Record<string, number> | null): Record<string, number> {
  const told = own.tones.map((t, k) => isNeutral(t) && isNeutral(to.tones[k]));
  const weights = own.tones.map((t, k) => (told[k] ? Math.min(t.share, to.tones[k].share) : 0));
  const values: Record<string, number> = Object.fromEntries(
    NAMES.flatMap((n) => [
      [`${n}Mired`, 0],
      [`${n}Duv`, 0],
    ]),
  );
  const goals = own.tones.map((t, k) => [
    t.neutralA + strength * (to.tones[k].neutralA - t.neutralA),
    t.neutralB + strength * (to.tones[k].neutralB - t.neutralB),
  ]);
  if (weights.every((w) => w === 0)) return values;
  // what a step of each does to the neutrals is measured, as the adjustment itself makes it
  for (let round = 0; round < CAST_ROUNDS; round++) {
    const now = neutralsAt(samples, values, then);
    const [warm, pink] = [neutralsAt(samples, stepped(values, "Mired", 10), then), neutralsAt(samples, stepped(values, "Duv", 0.003), then)];
    if (!now || !warm || !pink) break;
    const slopes = now.map((n, k) => [(warm[k][0] - n[0]) / 10, (warm[k][1] - n[1]) / 10, (pink[k][0] - n[0]) / 0.003, (pink[k][1] - n[1]) / 0.003]);
    // one light for all tones, as far as it goes
    const all = solved(slopes, goals, now, weights);
    NAMES.forEach((name, k) => {
      // and a tone's own on top, of what that tone alone asks for
      const alone = solved(
        slopes,
        goals,
        now,
        weights.map((w, j) => (j === k ? w : 0)),
      );
      const [mired, duv] = [0, 1].map((j) => all[j] + OWN * (weights[k] > 0 ? clamp(alone[j] - all[j], MOST_OWN[j]) : 0));
      values[`${name}Mired`] = clamp(values[`${name}Mired`] + mired, MOST_MIRED);
      values[`${name}Duv`] = clamp(values[`${name}Duv`] + duv, MOST_DUV);
    });
  }
  return values;
}

const CAST_ROUNDS = 3;
/** How much of what a tone asks for alone it gets, and how much that may be: mired and Duv. Common practice, no source. */
const OWN = 0.5;
const MOST_OWN = [15, 0.002];
/** Neutrals off by that much, ΔE, are worth no larger shift: mired and Duv are held to none by it. */
const HELD = [0.02, 500];

/** Mired and Duv that bring neutrals of some tones to their goals, by least squares. */
function solved(slopes: readonly number[][], goals: readonly number[][], now: readonly number[][], weights: readonly number[]): [number, number] {
  let [mm, md, dd, m, d] = [HELD[0] ** 2, 0, HELD[1] ** 2, 0, 0];
  slopes.forEach(([ma, mb, da, db], k) => {
    const [ea, eb] = [goals[k][0] - now[k][0], goals[k][1] - now[k][1]];
    mm += weights[k] * (ma * ma + mb * mb);
    md += weights[k] * (ma * da + mb * db);
    dd += weights[k] * (da * da + db * db);
    m += weights[k] * (ma * ea + mb * eb);
    d += weights[k] * (da * ea + db * eb);
  });
  const det = mm * dd - md * md;
  return [(m * dd - d * md) / det, (d * mm - m * md) / det];
}

const clamp = (v: number, most: number): number => Math.min(most, Math.max(-most, v));
const stepped = (values: Record<string, number>, of: string, by: number): Record<string, number> =>
  Object.fromEntries(Object.entries(values).map(([name, v]) => [name, name.endsWith(of) ? v + by : v]));

/** What is least coloured by tone, under a balance and what comes after it. */
function neutralsAt(samples: Samples, values: Record<string, number>, then: Record<string, number> | null): number[][] | null {
  const balanced = applyStep(samples, "balance", values);
  const figures = matchFigures(then ? applyStep(balanced, "chroma", then) : balanced);
  return figures && figures.tones.map((t) => [t.neutralA, t.neutralB]);
}

const [LEAST_FACTOR, MOST_FACTOR] = [0.3, 2];

function chromaFactor(own: MatchFigures, to: MatchFigures, strength: number): number {
  const ratio = meanChroma(to) / Math.max(0.5, meanChroma(own));
  return Math.min(MOST_FACTOR, Math.max(LEAST_FACTOR, 1 + strength * (ratio - 1)));
}

/** Samples as an adjustment makes them. */
export function applyStep({ count, light }: Samples, adjustment: ColourAdjustment, values: Record<string, number>): Samples {
  const planes = [0, 1, 2].map((c) => Float32Array.from({ length: count }, (_, i) => light[3 * i + c])) as [Float32Array, Float32Array, Float32Array];
  if (adjustment === "zones") {
    const factor = zoneFactor(values);
    for (let i = 0; i < count; i++) {
      const gain = factor(Math.max(1e-7, LUMINANCE[0] * planes[0][i] + LUMINANCE[1] * planes[1][i] + LUMINANCE[2] * planes[2][i]));
      for (const plane of planes) plane[i] *= gain;
    }
  } else if (adjustment === "whiteBalance") {
    const m = whiteBalanceMatrix(values.mired, values.duv);
    const [r, g, b] = planes;
    for (let i = 0; i < count; i++) {
      const [x, y, z] = [r[i], g[i], b[i]];
      for (let c = 0; c < 3; c++) planes[c][i] = Math.max(0, m[3 * c] * x + m[3 * c + 1] * y + m[3 * c + 2] * z);
    }
  } else if (adjustment === "balance") balanceByTone(planes, values);
  else {
    const at = new Float64Array(3);
    const [r, g, b] = planes;
    for (let i = 0; i < count; i++) {
      toOklab(r[i], g[i], b[i], at);
      [r[i], g[i], b[i]] = [at[0], at[1], at[2]];
    }
    scaleChroma(planes, values);
    for (let i = 0; i < count; i++) {
      fromOklab(r[i], g[i], b[i], at);
      for (let c = 0; c < 3; c++) planes[c][i] = Math.max(0, at[c]);
    }
  }
  const out = new Float32Array(3 * count);
  for (let i = 0; i < count; i++) for (let c = 0; c < 3; c++) out[3 * i + c] = planes[c][i];
  return { count, light: out };
}
