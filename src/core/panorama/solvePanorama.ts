import { multiply, type Matrix3 } from "../geometry/matrix3";
import { median, quantile } from "../numeric/statistics";
import { matchFeatures, type Match, type Products } from "../register/features/matchFeatures";
import type { Feature } from "../register/features/detectFeatures";
import { adjustCameras, type Adjusted, type AdjustOptions, type LensFreedom, type Tie } from "./adjustCameras";
import { between, overlapOf, type Camera } from "./camera";
import { findTurn, plainCamera, turnOfTies, type Turn } from "./findRotation";
import { exposureBetween, featuresOf, measureTies, type PanoramaFrame } from "./tieFrames";

/** Two frames that show the same, and how well they meet. */
export interface PairFit {
  a: number;
  b: number;
  /** places that agree, and all that were measured */
  agreeing: number;
  measured: number;
  /** root mean square of what is left where places agree, px of b */
  residualPx: number;
  /** what near things move by that do not fit one point of view, px; 0 where nothing does */
  parallaxPx: number;
  /** exposure of b against a, EV */
  relativeEv: number;
  /** share of a that b shows too */
  overlap: number;
}

export interface PanoramaSolution {
  cameras: Camera[];
  placed: boolean[];
  /** why a frame is left out, or null */
  reasons: (string | null)[];
  pairs: PairFit[];
  ties: Tie[];
  /** px left of each tie; Infinity where a frame cannot see it */
  residuals: Float64Array;
  /** standard deviation of the direction of each frame, degrees, and of the focal length, share */
  directionSdDeg: number[];
  focalSd: number;
}

export interface PanoramaOptions {
  /** focal length told from outside, px; null where it is to be found */
  focalPx: number | null;
  /** whether the distortion of the lens is undone already */
  straight: boolean;
  /** places that a person set, px as shot */
  points: Tie[];
  /** a fast way to compare features */
  products?: Products;
}

/** Places a pair below which a coarser level is looked at too. */
const FEW_TIES = 12;

/** Reports progress from 0 to 1 and lets others through. */
export type Step = (done: number, what: string) => Promise<void>;

/** Half the width of a frame is seen under these angles while the focal length is unknown, degrees. */
const HALF_ANGLES = [9, 12, 15, 18, 21, 24, 27, 30, 34, 38, 43, 48, 54];
const BENDS = [-0.16, -0.06, 0, 0.06];
/** How far a focal length that is told may be off, share; what overlaps show clearly outweighs it. Common practice, no source. */
const TOLD_SHARE = 0.003;
/** A direction known less well than this is not known. Common practice, no source. */
const MOST_SD_DEG = 0.08;
const MOST_SD_BY_HAND_DEG = 0.5;
/** A focal length known less well than this, and nothing told, makes the frames' angles a guess. */
const MOST_FOCAL_SD = 0.01;

/** Finds how the camera was turned for each frame, and its lens. Frames that do not belong are named and left out. @throws RangeError where nothing fits together */
export async function solvePanorama(frames: PanoramaFrame[], options: PanoramaOptions, step: Step): Promise<PanoramaSolution> {
  const features: Feature[][] = [];
  for (const [i, frame] of frames.entries()) {
    await step((0.3 * i) / frames.length, "Finding places");
    features.push(featuresOf(frame));
  }
  const candidates: Candidate[] = [];
  for (let a = 0; a < frames.length; a++) {
    for (let b = a + 1; b < frames.length; b++) {
      await step(0.3 + (0.2 * (a + b / frames.length)) / frames.length, "Comparing frames");
      const matches = matchFeatures(features[a], features[b], options.products);
      if (matches.length >= LEAST_MATCHES) candidates.push({ a, b, matches });
    }
  }
  const start = chooseLens(frames, candidates, options.focalPx);
  const byHand = pairsByHand(frames, options.points, start);
  const graph = [...start.pairs.filter((p) => p.convincing && !byHand.some((q) => q.a === p.a && q.b === p.b)), ...byHand];
  const groups = groupsOf(frames.length, graph);
  const main = groups[0];
  const reasons = reasonsOf(frames, features, candidates, start, groups, options.products);
  if (main.length < 2) {
    throw new RangeError(
      frames.length < 2
        ? "A panorama needs at least two frames that overlap."
        : `No two of these ${frames.length} frames overlap so that it can be told for certain: too little structure in common, or nothing in common at all.`,
    );
  }
  const placed = frames.map((_, i) => main.includes(i));
  const inside = graph.filter((p) => placed[p.a] && placed[p.b]);
  const fixed = middleOf(main, inside);
  let cameras = chain(frames, start.focalPx, start.k1, fixed, inside);
  const told = options.focalPx === null ? null : { px: options.focalPx, share: TOLD_SHARE };
  const rough = inside.flatMap((p) => p.turn.agreeing.map((i) => tieOf(p, p.matches[i])));
  const points = options.points.filter((t) => placed[t.a] && placed[t.b]);
  const few = options.straight || rough.length < LEAST_TIES.k1;
  let fit = adjustCameras(cameras, [...rough, ...points], fixed, placed, { freedom: few ? "focal" : "k1", toldFocal: told });
  cameras = fit.cameras;

  // then patch by patch, coarse and fine, over all frames that overlap
  const ev = new Map(
    inside.map((p) => [
      `${p.a}-${p.b}`,
      exposureBetween(
        frames[p.a],
        frames[p.b],
        p.turn.agreeing.map((i) => tieOf(p, p.matches[i])),
      ),
    ]),
  );
  // where a person had to set places, patches may match by chance: only what agrees with the places counts
  const said = fit.cameras;
  const believable = (t: Tie) => {
    if (!byHand.some((p) => p.a === t.a && p.b === t.b)) return true;
    const p = between(said[t.a], said[t.b], t.x, t.y);
    return p !== null && Math.hypot(p[0] - t.u, p[1] - t.v) < HAND_PX;
  };
  const coarsest = Math.min(...frames.map((f) => f.grey.levels.length - 1));
  const measure = async (level: number, columns: number, from: number): Promise<Tie[]> => {
    const together = overlapping(cameras, placed);
    const found: Tie[] = [];
    for (const [k, [a, b]] of together.entries()) {
      await step(from + (0.2 * k) / together.length, "Measuring overlaps");
      found.push(...measureTies(frames, cameras, a, b, ev.get(`${a}-${b}`) ?? 0, level, columns).filter(believable));
    }
    // soft frames show more where they are smaller
    if (found.length >= FEW_TIES * together.length || level >= Math.min(3, coarsest)) return found;
    const smaller = await measure(level + 1, columns, from);
    return smaller.length > found.length ? smaller : found;
  };
  let ties: Tie[] = rough;
  for (const [round, columns] of [14, 24].entries()) {
    ties = await measure(round === 0 ? coarseLevelOf(frames) : 0, columns, 0.5 + 0.2 * round);
    fit = adjustFreely(cameras, [...ties, ...points], fixed, placed, options.straight, told);
    cameras = fit.cameras;
  }
  await step(0.95, "Measuring overlaps");
  return judge({ cameras, placed, reasons, ties: [...ties, ...points], fit, ev, told: options.focalPx !== null, fixed, byHand });
}

/** How far a measured place may lie from where those set by hand say, px. Common practice, no source. */
const HAND_PX = 4;
/** Places set by hand that make a pair of frames one, however little else they show. */
const LEAST_BY_HAND = 3;

/** Pairs of frames in which a person set enough places, with the turn that these say. */
function pairsByHand(frames: PanoramaFrame[], points: Tie[], { focalPx, k1 }: Start): TurnedPair[] {
  const pairs = new Map<string, Tie[]>();
  for (const p of points) pairs.set(`${p.a}-${p.b}`, [...(pairs.get(`${p.a}-${p.b}`) ?? []), p]);
  return [...pairs.values()].flatMap((ties): TurnedPair[] => {
    const { a, b } = ties[0];
    const turn = turnOfTies(ties, plainCamera(frames[a], focalPx, k1), plainCamera(frames[b], focalPx, k1));
    if (ties.length < LEAST_BY_HAND || !turn) return [];
    const place = (x: number, y: number): Feature => ({ x, y, sigma: 1, angle: 0, strength: 1, descriptor: new Float32Array(128) });
    const matches = ties.map((t): Match => ({ a: place(t.x, t.y), b: place(t.u, t.v), ratio: 0 }));
    return [{ a, b, matches, turn: { rotation: turn, agreeing: matches.map((_, i) => i) }, convincing: true }];
  });
}

interface Candidate {
  a: number;
  b: number;
  matches: Match[];
}

interface TurnedPair extends Candidate {
  turn: Turn;
  convincing: boolean;
}

interface Start {
  focalPx: number;
  k1: number;
  pairs: TurnedPair[];
}

const LEAST_MATCHES = 8;

/** px of a frame within which a match agrees while the lens is a guess: a share of its size. */
const limitOf = (frames: PanoramaFrame[]) => 0.006 * Math.max(...frames.map((f) => Math.max(f.width, f.height)));

/** The focal length and the bend under which most matches of all pairs agree on turns. */
function chooseLens(frames: PanoramaFrame[], candidates: Candidate[], told: number | null): Start {
  const width = Math.max(...frames.map((f) => Math.max(f.width, f.height)));
  const limit = limitOf(frames);
  // few pairs, those with most matches, tell the lens
  const telling = [...candidates].sort((p, q) => q.matches.length - p.matches.length).slice(0, Math.max(4, frames.length));
  const attempt = (focalPx: number, k1: number, of: Candidate[]) =>
    of.flatMap((c): TurnedPair[] => {
      const [a, b] = [c.a, c.b].map((i) => plainCamera(frames[i], focalPx, k1));
      const turn = findTurn(c.matches, a, b, limit);
      return turn ? [{ ...c, turn, convincing: false }] : [];
    });
  let best = { focalPx: told ?? width, k1: 0, score: -1 };
  const focals = told === null ? HALF_ANGLES.map((half) => width / 2 / Math.tan((half * Math.PI) / 180)) : [told];
  const consider = (focalPx: number, k1: number) => {
    const pairs = attempt(focalPx, k1, telling);
    const score = pairs.reduce((sum, p) => sum + scoreOf(p, focalPx, limit, frames, k1), 0);
    if (score > best.score) best = { focalPx, k1, score };
  };
  for (const focal of focals) consider(focal, 0);
  for (const k1 of BENDS)
    if (k1 !== 0) for (const focal of told === null ? [0.85, 0.93, 1, 1.08, 1.18].map((s) => s * best.focalPx) : [told]) consider(focal, k1);
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

/** Frames that hang together, the largest group first. */
function groupsOf(count: number, pairs: TurnedPair[]): number[][] {
  const group = Array.from({ length: count }, (_, i) => i);
  const root = (i: number): number => (group[i] === i ? i : (group[i] = root(group[i])));
  for (const { a, b } of pairs) group[root(a)] = root(b);
  const found = new Map<number, number[]>();
  for (let i = 0; i < count; i++) found.set(root(i), [...(found.get(root(i)) ?? []), i]);
  return [...found.values()].sort((p, q) => q.length - p.length || p[0] - q[0]);
}

/** The frame with the shortest way to all others. */
function middleOf(main: number[], pairs: TurnedPair[]): number {
  const far = (from: number) => {
    const depth = new Map([[from, 0]]);
    for (const [at, d] of depth)
      for (const { a, b } of pairs)
        for (const [p, q] of [
          [a, b],
          [b, a],
        ])
          if (p === at && !depth.has(q)) depth.set(q, d + 1);
    return [...depth.values()].reduce((sum, d) => sum + d, 0);
  };
  return main.reduce((best, i) => (far(i) < far(best) ? i : best));
}

/** First directions along the pairs with most agreement. */
function chain(frames: PanoramaFrame[], focalPx: number, k1: number, fixed: number, pairs: TurnedPair[]): Camera[] {
  const cameras = frames.map((f) => plainCamera(f, focalPx, k1));
  const known = new Set([fixed]);
  const strongest = [...pairs].sort((p, q) => q.turn.agreeing.length - p.turn.agreeing.length);
  for (;;) {
    const next = strongest.find((p) => known.has(p.a) !== known.has(p.b));
    if (!next) return cameras;
    const { a, b, turn } = next;
    const back: Matrix3 = [0, 3, 6, 1, 4, 7, 2, 5, 8].map((i) => turn.rotation[i]);
    if (known.has(a)) cameras[b].rotation = multiply(cameras[a].rotation, turn.rotation);
    else cameras[a].rotation = multiply(cameras[b].rotation, back);
    known.add(a).add(b);
  }
}

function tieOf({ a, b }: Candidate, m: Match): Tie {
  return { a, b, x: m.a.x, y: m.a.y, u: m.b.x, v: m.b.y, weight: 1 };
}

/** The level of about 900 px on the longer side. */
function coarseLevelOf(frames: PanoramaFrame[]): number {
  const side = Math.max(...frames.map((f) => Math.max(f.grey.width, f.grey.height)));
  return Math.max(0, Math.min(...frames.map((f) => f.grey.levels.length - 1), Math.round(Math.log2(side / 900))));
}

const LEAST_OVERLAP = 0.04;

function overlapping(cameras: Camera[], placed: boolean[]): [number, number][] {
  const found: [number, number][] = [];
  for (let a = 0; a < cameras.length; a++) {
    for (let b = a + 1; b < cameras.length; b++) {
      if (placed[a] && placed[b] && overlapOf(cameras[a], cameras[b]) > LEAST_OVERLAP) found.push([a, b]);
    }
  }
  return found;
}

const FREEDOMS: LensFreedom[] = ["focal", "k1", "k2", "shift"];
/** Places from which a lens value is looked for: a few places are explained by any lens. Common practice, no source. */
const LEAST_TIES: Record<LensFreedom, number> = { none: 0, focal: 0, k1: 24, k2: 48, shift: 72 };
/** What a further value must leave of the cost: a lens that is there takes away most of it, few bad places a twentieth. Common practice, no source. */
const EXPLAINS = 0.85;

/** The simplest lens that explains as much: each further value must lower the cost by clearly more than noise does. */
function adjustFreely(cameras: Camera[], ties: Tie[], fixed: number, placed: boolean[], straight: boolean, toldFocal: AdjustOptions["toldFocal"]): Adjusted {
  const solve = (freedom: LensFreedom, from: Camera[]) => adjustCameras(from, ties, fixed, placed, { freedom, toldFocal });
  const plain = straight ? cameras.map((c) => ({ ...c, k1: 0, k2: 0 })) : cameras;
  if (straight) return solve("focal", plain);
  const fits = new Map<LensFreedom, Adjusted>();
  let from = cameras;
  const allowed = FREEDOMS.filter((f) => ties.length >= LEAST_TIES[f]);
  for (const freedom of allowed) {
    const start = freedom === "focal" ? from.map((c) => ({ ...c, k1: 0, k2: 0, shiftX: 0, shiftY: 0 })) : from;
    const fit = solve(freedom, start);
    fits.set(freedom, fit);
    from = freedom === "focal" ? cameras.map((c) => ({ ...c, k2: 0, shiftX: 0, shiftY: 0 })) : fit.cameras;
  }
  // costs at one width, or those of a bad fit would look small; doubled, for neighbouring patches are not independent
  const sigma = Math.min(...[...fits.values()].map((f) => f.sigmaPx));
  const worth = 2 * Math.log(Math.max(10, ties.length)) * 2;
  let best = fits.get("focal")!;
  for (const freedom of allowed.slice(1)) {
    const fit = fits.get(freedom)!;
    const more = freedom === "shift" ? 2 * worth : worth;
    if (fit.costAt(sigma) < EXPLAINS * best.costAt(sigma) - more) best = fit;
  }
  return best;
}

interface Measured {
  cameras: Camera[];
  placed: boolean[];
  reasons: (string | null)[];
  ties: Tie[];
  fit: Adjusted;
  ev: Map<string, number>;
  told: boolean;
  fixed: number;
  /** pairs that a person set places in */
  byHand: { a: number; b: number }[];
}

/** Patches farther off than so many px and standard deviations do not agree. Common practice, no source. */
const AGREES_PX = 1;
const AGREES_SIGMA = 4;
const LEAST_PATCHES = 6;

/** What every pair says after the fit; frames whose direction is not known well enough are left out. */
function judge({ cameras, placed, reasons, ties, fit, ev, told, fixed, byHand }: Measured): PanoramaSolution {
  const limit = Math.max(AGREES_PX, AGREES_SIGMA * fit.sigmaPx);
  const pairs: PairFit[] = [];
  for (const [a, b] of overlapping(cameras, placed)) {
    const left = ties.flatMap((t, i) => (t.a === a && t.b === b ? [fit.residuals[i]] : []));
    const near = left.filter((r) => r <= limit);
    const off = left.filter((r) => r > limit && Number.isFinite(r));
    pairs.push({
      a,
      b,
      agreeing: near.length,
      measured: left.length,
      residualPx: near.length ? Math.sqrt(near.reduce((sum, r) => sum + r * r, 0) / near.length) : 0,
      parallaxPx: off.length >= 3 && off.length > 0.05 * left.length ? quantile(off, 0.9) : 0,
      relativeEv: ev.get(`${a}-${b}`) ?? 0,
      overlap: overlapOf(cameras[a], cameras[b]),
    });
  }
  const set = (p: { a: number; b: number }) => byHand.some((q) => q.a === p.a && q.b === p.b);
  const solid = pairs.filter((p) => set(p) || (p.agreeing >= LEAST_PATCHES && p.agreeing >= 0.3 * p.measured));
  // what a person says is taken with the certainty it has
  const mostSd = placed.map((_, i) => (byHand.some((q) => q.a === i || q.b === i) ? MOST_SD_BY_HAND_DEG : MOST_SD_DEG));
  const reached = new Set([fixed]);
  for (const at of reached)
    for (const { a, b } of solid)
      for (const [p, q] of [
        [a, b],
        [b, a],
      ])
        if (p === at) reached.add(q);
  const certain = placed.map((p, i) => p && reached.has(i) && fit.directionSdDeg[i] <= mostSd[i]);
  const why = reasons.map((reason, i) =>
    !placed[i] || certain[i]
      ? reason
      : fit.directionSdDeg[i] > mostSd[i] && reached.has(i)
        ? `Its direction could only be told to ${fit.directionSdDeg[i].toFixed(2)}°: too little structure where it overlaps the others.`
        : "It seemed to overlap the others, but patch by patch too few places agree.",
  );
  if (certain.filter(Boolean).length < 2) throw new RangeError("These frames show too little structure in common to tell how the camera was turned.");
  if (!told && fit.focalSd > MOST_FOCAL_SD) {
    throw new RangeError(
      `The focal length cannot be told from these overlaps (${(100 * fit.focalSd).toFixed(0)} % uncertain): give it in px, or add frames that overlap more.`,
    );
  }
  return { cameras, placed: certain, reasons: why, pairs, ties, residuals: fit.residuals, directionSdDeg: fit.directionSdDeg, focalSd: fit.focalSd };
}

/** Why each frame outside the largest group is left out. */
function reasonsOf(
  frames: PanoramaFrame[],
  features: Feature[][],
  candidates: Candidate[],
  start: Start,
  groups: number[][],
  products?: Products,
): (string | null)[] {
  const [main, ...others] = groups;
  return frames.map((frame, i) => {
    if (main.includes(i)) return null;
    const own = others.find((g) => g.includes(i))!;
    const scaled = candidates.filter((c) => c.a === i || c.b === i).map((c) => scaleOf(c, i, limitOf(frames)));
    const odd = scaled.find((s) => s !== null && Math.abs(Math.log2(s)) > 0.15);
    if (odd) return `It shows the same things ${odd.toFixed(2)} times as large: it was taken at another focal length.`;
    const flipped = featuresOf(frame, true);
    const mirrored = main.some((m) => {
      const matches = matchFeatures(features[m], flipped, products);
      const [a, b] = [m, i].map((k) => plainCamera(frames[k], start.focalPx, start.k1));
      const turn = findTurn(matches, a, b, limitOf(frames));
      return turn !== null && turn.agreeing.length > 8 + 0.3 * matches.length;
    });
    if (mirrored) return "It is mirrored: it overlaps the others only when flipped sideways.";
    if (own.length > 1) return `It belongs to another panorama, together with ${own.length - 1} other frame${own.length > 2 ? "s" : ""}.`;
    if (features[i].length < 40) return "It has too little structure to tell where it belongs.";
    return "It overlaps no other frame so that it can be told for certain.";
  });
}

/** How much larger frame i shows what the other of a pair shows, where most matches say the same; else null. */
function scaleOf({ a, matches }: Candidate, i: number, limit: number): number | null {
  const scales = matches.map((m) => Math.log2(m.b.sigma / m.a.sigma));
  const middle = median(scales);
  const same = matches.filter((_, k) => Math.abs(scales[k] - middle) < 0.12);
  if (same.length < 12 || same.length < 0.5 * matches.length) return null;
  // they must agree on one shift at that scale too
  const s = 2 ** middle;
  const dx = median(same.map((m) => m.b.x - s * m.a.x));
  const dy = median(same.map((m) => m.b.y - s * m.a.y));
  const agree = same.filter((m) => Math.hypot(m.b.x - s * m.a.x - dx, m.b.y - s * m.a.y - dy) < 4 * limit).length;
  if (agree < 0.5 * same.length) return null;
  return a === i ? 1 / s : s;
}
