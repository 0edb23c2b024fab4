import { GRAIN_TONES, sigmaAt } from "../adjust/grain";
import type { NoiseFigures } from "../measure/noiseFigures";

/** Noise of two sides that differs less than that, times, is the same to the eye. Common practice, no source. */
const AS_NOISY = 1.25;
/** And by fewer 8-bit steps. */
const SEEN = 0.3;

/** Deviations of green at dark, middle and light tones, between those that are told; null where none is. */
export function sigmasOf({ tones }: NoiseFigures): [number, number, number] | null {
  if (tones.length === 0) return null;
  const at = (encoded: number): number => {
    const next = tones.findIndex((t) => t.encoded >= encoded);
    if (next < 0) return tones[tones.length - 1].sigma[1];
    if (next === 0) return tones[0].sigma[1];
    const [p, q] = [tones[next - 1], tones[next]];
    return p.sigma[1] + ((encoded - p.encoded) / (q.encoded - p.encoded)) * (q.sigma[1] - p.sigma[1]);
  };
  return [at(GRAIN_TONES[0]), at(GRAIN_TONES[1]), at(GRAIN_TONES[2])];
}

/** How noisy two sides are where both are told: mean deviations of green over the tones that both have, 8-bit steps; null where they have none. */
export function noiseBeside(own: NoiseFigures, other: NoiseFigures): { own: number; other: number } | null {
  const pairs = own.tones.flatMap((t) => other.tones.filter((u) => u.encoded === t.encoded).map((u) => [t.sigma[1], u.sigma[1]]));
  const [a, b] =
    pairs.length > 0 ? [0, 1].map((k) => pairs.reduce((s, p) => s + p[k], 0) / pairs.length) : [sigmasOf(own), sigmasOf(other)].map((s) => s?.[1] ?? NaN);
  return Number.isFinite(a) && Number.isFinite(b) ? { own: a, other: b } : null;
}

/** Whether one side is noisier than the other by what is seen. */
export const isNoisier = (a: number, b: number): boolean => a > AS_NOISY * b && a - b > SEEN;

/** The grain that makes one side as noisy as the other, in a quiet picture; null where it is so, or noisier, or not told. */
export function grainStep(own: NoiseFigures, other: NoiseFigures, strength: number): { values: Record<string, number>; before: number; after: number } | null {
  const [mine, theirs, beside] = [sigmasOf(own), sigmasOf(other), noiseBeside(own, other)];
  if (!mine || !theirs || !beside || !isNoisier(beside.other, beside.own)) return null;
  const added = theirs.map((s, k) => strength * Math.sqrt(Math.max(0, s * s - mine[k] * mine[k])));
  const ratio = (c: 0 | 2): number => {
    const told = other.tones.filter((t) => t.sigma[1] > 0);
    return told.length ? Math.min(5, told.reduce((s, t) => s + t.sigma[c] / t.sigma[1], 0) / told.length) : 1;
  };
  const [dark, middle, light] = added.map((s) => Math.min(60, Math.round(100 * s) / 100));
  const grained = own.tones.map((t) => ({ ...t, sigma: [t.sigma[0], Math.hypot(t.sigma[1], sigmaAt(added, t.encoded)), t.sigma[2]] as typeof t.sigma }));
  return {
    values: { dark, middle, light, red: ratio(0), blue: ratio(2), sizePx: Math.min(8, other.grainPx ?? 0), common: other.common },
    before: beside.other - beside.own,
    after: Math.abs(beside.other - noiseBeside({ ...own, tones: grained }, other)!.own),
  };
}
