import { quantile } from "../numeric/statistics";
import type { Match } from "../register/features/matchFeatures";
import { between } from "./camera";
import { findTurn, plainCamera, type Turn } from "./findRotation";
import type { PanoramaFrame } from "./tieFrames";

/** Half the width of a frame is seen under these angles while the focal length is unknown, degrees. */
const HALF_ANGLES = [9, 12, 15, 18, 21, 24, 27, 30, 34, 38, 43, 48, 54];
const BENDS = [-0.16, -0.06, 0, 0.06];
/** Focal lengths tried with each bend, shares of the best one found so far. */
const NEAR_FOCALS = [0.85, 0.93, 1, 1.08, 1.18];

export interface Candidate {
  a: number;
  b: number;
  matches: Match[];
}

export interface TurnedPair extends Candidate {
  turn: Turn;
  convincing: boolean;
}

export interface Start {
  focalPx: number;
  k1: number;
  pairs: TurnedPair[];
}

/** Matches of a pair, the clearest first, that a lens is tried on. */
const TELLING_MATCHES = 240;

/** Fewer matches say nothing. Common practice, no source. */
export const LEAST_MATCHES = 8;

/** px of a frame within which a match agrees while the lens is a guess: a share of its size. */
export const limitOf = (frames: PanoramaFrame[]) => 0.006 * Math.max(...frames.map((f) => Math.max(f.width, f.height)));

/** The focal length and the bend under which most matches of all pairs agree on turns. @param step is called before each lens that is tried, with the share done */
export async function chooseLens(frames: PanoramaFrame[], candidates: Candidate[], told: number | null, step: (done: number) => Promise<void>): Promise<Start> {
  const width = Math.max(...frames.map((f) => Math.max(f.width, f.height)));
  const limit = limitOf(frames);
  // few pairs, those with most matches, tell the lens
  const telling = [...candidates]
    .sort((p, q) => q.matches.length - p.matches.length)
    .slice(0, Math.max(4, frames.length))
    .map((c) => ({ ...c, matches: c.matches.slice(0, TELLING_MATCHES) }));
  const attempt = (focalPx: number, k1: number, of: Candidate[]) =>
    of.flatMap((c): TurnedPair[] => {
      const [a, b] = [c.a, c.b].map((i) => plainCamera(frames[i], focalPx, k1));
      const turn = findTurn(c.matches, a, b, limit);
      return turn ? [{ ...c, turn, convincing: false }] : [];
    });
  let best = { focalPx: told ?? width, k1: 0, score: -1 };
  const focals = told === null ? HALF_ANGLES.map((half) => width / 2 / Math.tan((half * Math.PI) / 180)) : [told];
  const near = told === null ? NEAR_FOCALS : [1];
  const tries = focals.length + (BENDS.length - 1) * near.length;
  let tried = 0;
  const consider = async (focalPx: number, k1: number) => {
    await step(tried++ / tries);
    const pairs = attempt(focalPx, k1, telling);
    const score = pairs.reduce((sum, p) => sum + scoreOf(p, focalPx, limit, frames, k1), 0);
    if (score > best.score) best = { focalPx, k1, score };
  };
  for (const focal of focals) await consider(focal, 0);
  for (const k1 of BENDS.filter((k) => k !== 0)) {
    const middle = told ?? best.focalPx;
    for (const share of near) await consider(share * middle, k1);
  }
  const pairs = attempt(best.focalPx, best.k1, candidates);
  for (const p of pairs) p.convincing = convinces(p, frames, best.focalPx, best.k1);
  return { ...best, pairs };
}

/** Matches that agree, each the more the closer. */
function scoreOf(p: TurnedPair, focalPx: number, limit: number, frames: PanoramaFrame[], k1: number): number {
  const [a, b] = [plainCamera(frames[p.a], focalPx, k1), { ...plainCamera(frames[p.b], focalPx, k1), rotation: p.turn.rotation }];
  return p.turn.agreeing.reduce((sum, i) => {
    const m = p.matches[i];
    const q = between(a, b, m.a.x, m.a.y);
    return q ? sum + 1 - (Math.hypot(q[0] - m.b.x, q[1] - m.b.y) / limit) ** 2 : sum;
  }, 0);
}

/**
 * Whether so many matches cannot agree by chance: more than 8 and three tenths of those that lie in the overlap, spread over it.
 * @see Brown and Lowe 2007, "Automatic panoramic image stitching using invariant features", section 3.2
 */
function convinces(p: TurnedPair, frames: PanoramaFrame[], focalPx: number, k1: number): boolean {
  const [a, b] = [plainCamera(frames[p.a], focalPx, k1), { ...plainCamera(frames[p.b], focalPx, k1), rotation: p.turn.rotation }];
  const inOverlap = p.matches.filter((m) => {
    const q = between(a, b, m.a.x, m.a.y);
    return q && q[0] > 0 && q[1] > 0 && q[0] < b.width && q[1] < b.height;
  }).length;
  if (p.turn.agreeing.length <= 8 + 0.3 * inOverlap) return false;
  const spread = (values: number[]) => quantile(values, 0.9) - quantile(values, 0.1);
  const xs = p.turn.agreeing.map((i) => p.matches[i].a.x);
  const ys = p.turn.agreeing.map((i) => p.matches[i].a.y);
  return Math.hypot(spread(xs), spread(ys)) > 0.06 * Math.hypot(a.width, a.height);
}
