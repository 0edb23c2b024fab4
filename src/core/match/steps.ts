import { curveResponse } from "../adjust/tone";
import { balanceByTone, scaleChroma } from "../adjust/colour";
import { decodeSrgb, encodeSrgb } from "../color/srgbCurve";
import { fromOklab, toOklab } from "../color/oklab";
import { colourDistance, matchFigures, neutralDistance, toneDistance, type MatchFigures, type ToneColour } from "./figures";
import type { Samples } from "./transfer";

/** The steps of a match, in the order that works. */
export const MATCH_STEPS = ["tone", "cast", "chroma"] as const;
export type MatchStep = (typeof MATCH_STEPS)[number];

/** What a step proposes: an ordinary adjustment with its values, and how far both sides are apart before and after it. */
export interface StepProposal {
  step: MatchStep;
  adjustment: "curve" | "balance" | "chroma";
  values: Record<string, number>;
  /** mean difference of L* at equal shares, and of a* and b* by tone */
  before: { tone: number; colour: number };
  after: { tone: number; colour: number };
}

/** A step that gains less, L* or ΔE, is not proposed. Common practice, no source. */
const WORTH = 0.3;
/** A curve is nowhere steeper or flatter than that, times. Common practice, no source. */
const STEEPEST = 3;
/** Nodes of a tone curve, shares of the samples. */
const SHARES = [0, 2, 4.5, 7, 9];

/**
 * The steps that bring one side to another, each after the one before: black, middle and white in mono; what is neutral, by tone; chroma.
 * @param strength how much of the way each goes, 0..1 @returns those that are worth it; null where a side tells nothing
 */
export function matchSteps(from: Samples, to: MatchFigures, strength = 1): StepProposal[] | null {
  let [samples, figures] = [from, matchFigures(from)];
  if (!figures) return null;
  const found: StepProposal[] = [];
  const take = (step: MatchStep, adjustment: StepProposal["adjustment"], values: Record<string, number>): void => {
    const next = applyStep(samples, adjustment, values);
    const after = matchFigures(next)!;
    const [before, now] = [distances(figures!, to), distances(after, to)];
    const gain = GAIN[step](figures!, to) - GAIN[step](after, to);
    if (gain < WORTH) return;
    found.push({ step, adjustment, values, before, after: now });
    [samples, figures] = [next, after];
  };
  take("tone", "curve", toneCurve(figures, to, strength));
  // chroma strengthens what is left of a cast: the cast is judged as chroma will leave it
  const first = applyStep(samples, "balance", castBalance(samples, figures, to, strength, null));
  const chroma = { factor: chromaFactor(matchFigures(first)!, to, strength), protect: 0, space: 0 };
  const isWorth = GAIN.chroma(matchFigures(first)!, to) > WORTH ? chroma : null;
  const cast = castBalance(samples, figures, to, strength, isWorth);
  take("cast", "balance", cast);
  take("chroma", "chroma", chroma);
  return found;
}

const meanChroma = (f: MatchFigures): number => f.tones.reduce((s, t) => s + t.share * t.chroma, 0);
/** How far both sides are apart in what a step works on. */
const GAIN: Record<MatchStep, (p: MatchFigures, q: MatchFigures) => number> = {
  tone: toneDistance,
  cast: neutralDistance,
  chroma: (p, q) => Math.abs(meanChroma(p) - meanChroma(q)),
};

const distances = (p: MatchFigures, q: MatchFigures) => ({ tone: toneDistance(p, q), colour: colourDistance(p, q) });

const encodedOfL = (L: number): number => encodeSrgb(L > 8 ? ((L + 16) / 116) ** 3 : (L * 27) / 24389);

/** A curve that brings lightness at some shares of the samples to the other side's; black and white stay within the scale, and nothing is clipped. */
function toneCurve(own: MatchFigures, to: MatchFigures, strength: number): Record<string, number> {
  const nodes: [number, number][] = [];
  for (const share of SHARES) {
    const at = (l: readonly number[]) => l[Math.floor(share)] + (share % 1) * ((l[Math.ceil(share)] ?? l[9]) - l[Math.floor(share)]);
    const [x, y] = [encodedOfL(at(own.lightness)), encodedOfL(at(to.lightness))];
    const last = nodes[nodes.length - 1];
    if (x < 0.02 || x > 0.98 || (last && x - last[0] < 0.03)) continue;
    nodes.push([x, Math.min(0.99, Math.max(0.005, x + strength * (y - x)))]);
  }
  const all = held([[0, 0], ...nodes, [1, 1]]);
  return {
    channel: 0,
    log: 0,
    nodes: all.length,
    ...Object.fromEntries(
      all.flatMap(([x, y], k) => [
        [`x${k}`, x],
        [`y${k}`, y],
      ]),
    ),
  };
}

/** Nodes between which a curve is neither too steep nor too flat: from the middle outwards, as far as both ends allow. */
function held(nodes: [number, number][]): [number, number][] {
  const out = nodes.map(([x, y]): [number, number] => [x, y]);
  for (let round = 0; round < 8; round++) {
    for (let k = 1; k + 1 < out.length; k++) {
      const [low, high] = [out[k - 1], out[k + 1]];
      const [before, after] = [out[k][0] - low[0], high[0] - out[k][0]];
      const least = Math.max(low[1] + before / STEEPEST, high[1] - after * STEEPEST);
      const most = Math.min(low[1] + before * STEEPEST, high[1] - after / STEEPEST);
      out[k][1] = least > most ? (least + most) / 2 : Math.min(most, Math.max(least, out[k][1]));
    }
  }
  return out;
}

/** Tones of which there is so little tell no cast, nor do those whose least coloured is so coloured, C*ab: nothing there is known to be neutral. They take their neighbours'. Common practice, no source. */
const TELLS = 0.03;
const TOO_COLOURED = 16;
const NAMES = ["dark", "middle", "light"] as const;
const [MOST_MIRED, MOST_DUV] = [80, 0.02];

/** Another light by tone that brings what is least coloured here to what is least coloured there: a neutral leaves neutral no further than the other side's do. @param then chroma that is laid after it */
function castBalance(samples: Samples, own: MatchFigures, to: MatchFigures, strength: number, then: Record<string, number> | null): Record<string, number> {
  const isNeutral = (t: ToneColour): boolean => t.share >= TELLS && Math.hypot(t.neutralA, t.neutralB) < TOO_COLOURED;
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
const MOST_OWN = [15, 0.004];
/** Neutrals off by that much, ΔE, are worth no larger shift: mired and Duv are held to none by it. */
const HELD = [0.02, 200];

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
export function applyStep({ count, light }: Samples, adjustment: StepProposal["adjustment"], values: Record<string, number>): Samples {
  const planes = [0, 1, 2].map((c) => Float32Array.from({ length: count }, (_, i) => light[3 * i + c])) as [Float32Array, Float32Array, Float32Array];
  if (adjustment === "curve") {
    const response = curveResponse(values);
    for (const plane of planes)
      plane.forEach(
        (v, i) => (plane[i] = decodeSrgb(Math.max(0, response(Math.min(1, encodeSrgb(Math.max(0, v)))) + Math.max(0, encodeSrgb(Math.max(0, v)) - 1)))),
      );
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
