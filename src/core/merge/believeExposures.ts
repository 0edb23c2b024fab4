/** Factors by which an unknown curve may stretch what is measured against what was set. Common practice, no source. */
const STRETCH = { least: 0.4, most: 2.5 };
/** What a note may differ from what is measured, EV and as a share of it: a curve that is not known bends what is measured, too. Common practice, no source. */
const ALLOWED = { ev: 0.35, share: 0.05 };
/** The same under a stretch, which can hide a wrong note by half. */
const ALLOWED_STRETCHED_EV = 0.2;
/** Differences of exposure below which a ratio says nothing, EV. */
const LEAST_EV = 0.3;

/**
 * Noted exposures are hypotheses: those that fit what the pixels show, up to one common stretch, are believed; for the others stands what is measured.
 * @param told noted exposures, EV, against anything
 * @param measured the same frames from their pixels, EV against anything, through a curve that may be wrong
 * @returns for each frame, against the reference as it is gone on with: what is noted, what to go on with, and whether the note is believed
 */
export function believeExposures(told: number[], measured: number[], reference: number): { told: number; ev: number; believed: boolean }[] {
  const shown = measured.map((m) => m - measured[reference]);
  const ratios = told.flatMap((_, i) =>
    told.slice(i + 1).flatMap((t, k) => {
      const there = shown[i + 1 + k] - shown[i];
      return Math.abs(there) > LEAST_EV ? [(t - told[i]) / there] : [];
    }),
  );
  const candidates = [1, ...ratios.filter((r) => r >= STRETCH.least && r <= STRETCH.most)];
  const judged = candidates.map((stretch) => {
    const off = told.map((t, i) => t - stretch * shown[i]);
    const allowed = (i: number) => (stretch === 1 ? ALLOWED.ev : ALLOWED_STRETCHED_EV) + ALLOWED.share * Math.abs(shown[i]);
    // the offset under which most agree is one of theirs
    const tries = off.map((zero) => ({ zero, believed: off.map((o, i) => Math.abs(o - zero) <= allowed(i)) }));
    const count = (b: { believed: boolean[] }) => b.believed.filter(Boolean).length;
    const best = tries.reduce((a, b) => (count(b) > count(a) ? b : a));
    return { stretch, ...best, count: count(best) };
  });
  const away = (j: { stretch: number }) => Math.abs(Math.log(j.stretch));
  const best = judged.reduce((a, b) => (b.count > a.count || (b.count === a.count && away(b) < away(a)) ? b : a));
  // of two frames, or where notes agree on nothing, no note stands against the pixels
  const enough = best.count > told.length / 2;
  if (!enough) return told.map((t, i) => ({ told: t - told[reference], ev: shown[i], believed: false }));
  const ev = told.map((t, i) => (best.believed[i] ? t : best.zero + best.stretch * shown[i]));
  return told.map((t, i) => ({ told: t - ev[reference], ev: ev[i] - ev[reference], believed: best.believed[i] }));
}
