import { message, type Message, type Telling } from "../../messages/message";
import { Refusal } from "../refusal";
import { multiply, type Matrix3 } from "../geometry/matrix3";
import { quantile } from "../numeric/statistics";
import { matchFeatures, type Match } from "../register/features/matchFeatures";
import type { FeatureTools } from "../register/features/FeatureTools";
import type { Feature } from "../register/features/detectFeatures";
import { adjustCameras, type Adjusted, type AdjustOptions, type LensFreedom, type Tie } from "./adjustCameras";
import { angleBetween, between, overlapOf, type Camera } from "./camera";
import { chooseLens, LEAST_MATCHES, type Candidate, type Start, type TurnedPair } from "./chooseLens";
import { plainCamera, turnOfTies } from "./findRotation";
import { parallaxOf } from "./parallax";
import { exposureBetween, featuresOf, measureTies, type PanoramaFrame } from "./tieFrames";
import { rejectionReason } from "./rejectionReason";

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
  reasons: (Message | null)[];
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
  /** faster ways to find and to compare features, where there are some */
  tools?: FeatureTools;
}

/** Places a pair below which a coarser level is looked at too. */
const FEW_TIES = 12;

/** Cells across a frame in which a place is looked for, coarse and fine; of so many overlaps, fewer of more. */
const COLUMNS = [14, 24];
const ENOUGH_PAIRS = 6;
const LEAST_COLUMNS = 12;

/** Reports progress from 0 to 1 and lets others through. */
export type Step = (done: number, what: Telling) => Promise<void>;

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
    await step((0.3 * i) / frames.length, "task.findingPlaces");
    features.push(featuresOf(frame, options.tools?.convolve));
  }
  const candidates: Candidate[] = [];
  for (let a = 0; a < frames.length; a++) {
    for (let b = a + 1; b < frames.length; b++) {
      await step(0.3 + (0.2 * (a + b / frames.length)) / frames.length, "task.comparingPairs");
      const matches = matchFeatures(features[a], features[b], options.tools?.products);
      if (matches.length >= LEAST_MATCHES) candidates.push({ a, b, matches });
    }
  }
  const start = await chooseLens(frames, candidates, options.focalPx, (done) => step(0.5 + 0.1 * done, "task.lookingForLens"));
  const byHand = pairsByHand(frames, options.points, start);
  const graph = [...start.pairs.filter((p) => p.convincing && !byHand.some((q) => q.a === p.a && q.b === p.b)), ...byHand];
  const groups = groupsOf(frames.length, graph);
  const main = groups[0];
  const reasons = rejectionReason(frames, features, candidates, start, groups, options.tools);
  if (main.length < 2) {
    throw new Refusal(
      "unclear",
      frames.length < 2
        ? "panorama.twoFrames"
        : options.focalPx !== null && (await overlapsWithAnother(frames, candidates, step))
          ? disagree(options.focalPx)
          : message("panorama.noOverlap", { count: frames.length }),
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
      await step(from + (0.15 * k) / together.length, "task.measuringOverlaps");
      found.push(...measureTies(frames, cameras, a, b, ev.get(`${a}-${b}`) ?? 0, level, columns).filter(believable));
    }
    // soft frames show more where they are smaller
    if (found.length >= FEW_TIES * together.length || level >= Math.min(3, coarsest)) return found;
    const smaller = await measure(level + 1, columns, from);
    return smaller.length > found.length ? smaller : found;
  };
  let ties: Tie[] = rough;
  // many overlaps tell the same with fewer places each
  const share = Math.sqrt(Math.min(1, ENOUGH_PAIRS / overlapping(cameras, placed).length));
  for (const [round, columns] of COLUMNS.entries()) {
    ties = await measure(round === 0 ? coarseLevelOf(frames) : 0, Math.max(LEAST_COLUMNS, Math.round(share * columns)), 0.6 + 0.17 * round);
    fit = await adjustFreely(cameras, [...ties, ...points], fixed, placed, options.straight, told, () => step(0.77 + 0.17 * round, "task.fittingLens"));
    cameras = fit.cameras;
  }
  const parallax = new Map<string, number>();
  for (const [k, [a, b]] of overlapping(cameras, placed).entries()) {
    await step(0.94 + (0.06 * k) / (frames.length * frames.length), "task.parallax");
    const matches = candidates.find((c) => c.a === a && c.b === b)?.matches ?? [];
    parallax.set(`${a}-${b}`, parallaxOf(frames, cameras, a, b, matches, ev.get(`${a}-${b}`) ?? 0, limitOfFit(fit)));
  }
  return judge({ cameras, placed, reasons, ties: [...ties, ...points], fit, ev, told: options.focalPx, fixed, byHand, parallax });
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
async function adjustFreely(
  cameras: Camera[],
  ties: Tie[],
  fixed: number,
  placed: boolean[],
  straight: boolean,
  toldFocal: AdjustOptions["toldFocal"],
  pause: () => Promise<void>,
): Promise<Adjusted> {
  const solve = (freedom: LensFreedom, from: Camera[]) => adjustCameras(from, ties, fixed, placed, { freedom, toldFocal });
  const plain = straight ? cameras.map((c) => ({ ...c, k1: 0, k2: 0 })) : cameras;
  if (straight) return solve("focal", plain);
  const fits = new Map<LensFreedom, Adjusted>();
  let from = cameras;
  const allowed = FREEDOMS.filter((f) => ties.length >= LEAST_TIES[f]);
  for (const freedom of allowed) {
    await pause();
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
  reasons: (Message | null)[];
  ties: Tie[];
  fit: Adjusted;
  ev: Map<string, number>;
  /** focal length given, px, or null */
  told: number | null;
  fixed: number;
  /** what is near or moved went so far, px, by pair */
  parallax: Map<string, number>;
  /** pairs that a person set places in */
  byHand: { a: number; b: number }[];
}

/** Patches farther off than so many px and standard deviations do not agree. Common practice, no source. */
const AGREES_PX = 1;
const AGREES_SIGMA = 4;
const limitOfFit = (fit: Adjusted) => Math.max(AGREES_PX, AGREES_SIGMA * fit.sigmaPx);
const LEAST_PATCHES = 6;

/** Turns below this, degrees, are none that a panorama could be made of. Common practice, no source. */
const SAME_WAY_DEG = 0.5;

/** Whether some frames overlap for certain at the focal length they show themselves. */
async function overlapsWithAnother(frames: PanoramaFrame[], candidates: Candidate[], step: Step): Promise<boolean> {
  const { pairs } = await chooseLens(frames, candidates, null, (done) => step(0.6 + 0.1 * done, "task.lookingForLens"));
  return pairs.some((p) => p.convincing);
}

const disagree = (focalPx: number) => message("panorama.focalLength", { px: Math.round(focalPx) });

/** What every pair says after the fit; frames whose direction is not known well enough are left out. */
function judge({ cameras, placed, reasons, ties, fit, ev, told, fixed, byHand, parallax }: Measured): PanoramaSolution {
  const limit = limitOfFit(fit);
  const pairs: PairFit[] = [];
  for (const [a, b] of overlapping(cameras, placed)) {
    const left = ties.flatMap((t, i) => (t.a === a && t.b === b ? [fit.residuals[i]] : []));
    const near = left.filter((r) => r <= limit);
    const off = left.filter((r) => r > limit && Number.isFinite(r));
    const little = off.length >= 3 && off.length > 0.05 * left.length ? quantile(off, 0.9) : 0;
    pairs.push({
      a,
      b,
      agreeing: near.length,
      measured: left.length,
      residualPx: near.length ? Math.sqrt(near.reduce((sum, r) => sum + r * r, 0) / near.length) : 0,
      parallaxPx: Math.max(little, parallax.get(`${a}-${b}`) ?? 0),
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
        ? message("left.direction", { degrees: fit.directionSdDeg[i] })
        : message("left.fewAgree", {}),
  );
  if (certain.filter(Boolean).length < 2) throw new Refusal("unclear", "panorama.littleStructure");
  const widest = Math.max(...pairs.map((p) => angleBetween(cameras[p.a].rotation, cameras[p.b].rotation)));
  if (widest < SAME_WAY_DEG) throw new Refusal("unclear", "panorama.sameWay");
  if (told === null && fit.focalSd > MOST_FOCAL_SD) {
    throw new Refusal("unclear", fit.focalSd < 1 ? message("panorama.focalUnsure", { percent: 100 * fit.focalSd }) : "panorama.focalUnknown");
  }
  return { cameras, placed: certain, reasons: why, pairs, ties, residuals: fit.residuals, directionSdDeg: fit.directionSdDeg, focalSd: fit.focalSd };
}
