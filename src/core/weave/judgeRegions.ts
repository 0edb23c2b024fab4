import { message, type Message } from "../../messages/message";
import { median } from "../numeric/statistics";

/** What a region is looked at for. */
export const AIMS = ["light", "detail", "colour", "smooth", "noise", "still"] as const;
export type Aim = (typeof AIMS)[number];

/** What was measured of a frame in a region, as it was shot. */
export interface CellMeasures {
  /** share lost in black or clipped, a third for each channel, 0..1 */
  clipped: number;
  /** noise against the signal, 0..1 */
  noise: number;
  /** rms of fine detail on log light, EV */
  detailEv: number;
  /** rms of ripples and grain of middle size on log light, EV */
  rippleEv: number;
  /** mean Oklab chroma, and rms of colours about their mean */
  chroma: number;
  colourRange: number;
  /** mean luminance of what is not clipped, EV against white */
  lightEv: number;
  /** rms of light and shade larger than detail, EV */
  shadeEv: number;
  /** correlation of its ripples with those of the other frames, −1..1: near 0 where a surface moves */
  steady: number;
  /** how unlike the other frames it looks, 0..1: something moved or stands there in this frame alone */
  alone: number;
  /** where the light comes from, against the other frames: degrees clockwise from the top, and how strongly, EV across the region */
  lightFromDeg: number;
  lightFromEv: number;
}

export interface AimKind {
  /** the figure of a cell, larger is better */
  score: (m: CellMeasures) => number;
  /** the same as it is shown, and its unit */
  shown: (m: CellMeasures) => string;
  unit: string;
}

/** Weight of following the other frames against ripple, EV. Common practice, no source. */
const STEADY_WEIGHT = 0.5;
const signed = (v: number) => `${v >= 0 ? "+" : "−"}${Math.abs(v).toFixed(1)}`;

/** How much a surface moves, EV: its ripples, more where they are those of the other frames. */
const stirred = (m: CellMeasures) => m.rippleEv + STEADY_WEIGHT * m.steady;

export const AIM_KINDS: Record<Aim, AimKind> = {
  light: {
    score: (m) => m.lightEv + m.shadeEv,
    shown: (m) => signed(m.lightEv + m.shadeEv),
    unit: "EV",
  },
  detail: { score: (m) => m.detailEv, shown: (m) => m.detailEv.toFixed(2), unit: "EV" },
  colour: {
    score: (m) => 50 * (m.chroma + m.colourRange),
    shown: (m) => (100 * (m.chroma + m.colourRange)).toFixed(1),
    unit: "",
  },
  // a surface that lay still has weak ripples, and not those of the other frames
  smooth: {
    score: (m) => -10 * stirred(m),
    shown: (m) => stirred(m).toFixed(2),
    unit: "EV",
  },
  noise: {
    score: (m) => -Math.log2(Math.max(1e-4, m.noise)),
    shown: (m) => (100 * m.noise).toFixed(1),
    unit: "%",
  },
  still: {
    score: (m) => -10 * m.alone,
    shown: (m) => String(Math.round(100 * m.alone)),
    unit: "%",
  },
};

/** A frame loses its place with more of a region clipped than this over the least clipped; round a low sun some always is. Common practice, no source. */
const CLIPPED_SLACK = 0.03;
/** What a lost share costs, in units of the scores. */
const CLIPPED_COST = 12;

/** The score of a frame for an aim, less what is clipped in it beyond what is clipped in all. */
export function scoreOf(aim: Aim, m: CellMeasures, leastClipped: number): number {
  return AIM_KINDS[aim].score(m) - CLIPPED_COST * Math.max(0, m.clipped - leastClipped - CLIPPED_SLACK);
}

export interface Ranked {
  /** indices of the frames, best first */
  order: number[];
  reason: Message;
}

/** Frames of a region ranked for an aim, with the reason for the first. @param numbers as the ledger shows them */
export function rankFrames(aim: Aim, cells: CellMeasures[], numbers: number[]): Ranked {
  const least = Math.min(...cells.map((m) => m.clipped));
  const scores = cells.map((m) => scoreOf(aim, m, least));
  const order = cells.map((_, i) => i).sort((a, b) => scores[b] - scores[a] || a - b);
  const [best, second] = order;
  const { score, unit } = AIM_KINDS[aim];
  const shown = (m: CellMeasures) => `${AIM_KINDS[aim].shown(m)} ${unit}`.trimEnd();
  if (second === undefined) return { order, reason: message("aiming.only", {}) };
  // where another would win but for what it has lost
  const barred = order.slice(1).find((i) => score(cells[i]) > score(cells[best]));
  const measure = message(`aiming.${aim}`, {});
  const figures = { number: numbers[best], measure, value: shown(cells[best]), other: numbers[second], otherValue: shown(cells[second]) };
  const lost = (i: number) => Math.round(100 * cells[i].clipped);
  if (barred !== undefined) {
    const instead = { barred: numbers[barred], barredValue: shown(cells[barred]), percent: lost(barred) };
    return { order, reason: message("aiming.barred", { ...figures, ...instead }) };
  }
  if (cells[best].clipped - least <= CLIPPED_SLACK) return { order, reason: message("aiming.best", figures) };
  const whole = cells.findIndex((m) => m.clipped === least);
  return { order, reason: message("aiming.lost", { ...figures, percent: lost(best), whole: numbers[whole], wholePercent: lost(whole) }) };
}

/** What a region looks like in all frames together. */
export interface RegionCharacter {
  /** found to be the sky */
  isSky: boolean;
  /** centre from the top and bounds, shares of the height */
  middle: number;
  top: number;
  /** share of the picture */
  share: number;
  cells: CellMeasures[];
}

/** Detail below this is even, EV. Common practice, no source. */
const EVEN_EV = 0.15;
/**
 * By how much less the ripples of one frame follow those of the others where a surface lay still in it, how weak they are at least against
 * theirs, and both together: what stands in the water is mirrored in it, and ripples there too. Common practice, no source.
 */
const UNLIKE = 0.2;
const CALM = 0.9;
const UNLIKE_AND_CALM = 0.3;

/** The aim that a region seems to ask for: sky for its colour, a surface that moves for smoothness, the rest for the light on it. */
export function proposeAim({ isSky, middle, top, share, cells }: RegionCharacter): Aim {
  const details = cells.map((m) => m.detailEv).sort((a, b) => a - b);
  if (isSky || (top < 0.05 && middle < 0.45 && share > 0.02 && details[details.length >> 1] < EVEN_EV)) return "colour";
  return cells.length > 2 && wasStill(cells) ? "smooth" : "light";
}

/** Whether what moves in most frames lay still in one: its ripples are weaker, and not those of the others. */
function wasStill(cells: CellMeasures[]): boolean {
  const odd = cells.reduce((best, m) => (m.steady < best.steady ? m : best));
  const others = cells.filter((m) => m !== odd);
  const middle = (of: (m: CellMeasures) => number) => median(others.map(of));
  const unlike = middle((m) => m.steady) - odd.steady;
  const calm = middle((m) => m.rippleEv) / Math.max(1e-3, odd.rippleEv);
  return unlike > UNLIKE && calm > CALM && unlike * calm > UNLIKE_AND_CALM;
}
