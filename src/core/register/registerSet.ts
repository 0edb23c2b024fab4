import type { Message } from "../../messages/message";
import { hasLens, type Lens } from "../geometry/lens";
import { IDENTITY, invert, multiply, normalize, type Matrix3 } from "../geometry/matrix3";
import { atATime } from "../numeric/atATime";
import { adjustSet, type PairEdge } from "./adjustSet";
import { type GreyPyramid } from "./greyPyramid";
import { displacementPx, judgeFit, type Fit, type FitFigures } from "./judgeFit";
import { FREEDOM, type ModelChoice, type MotionModel } from "./models";
import { createPhotometry } from "./photometry";
import { RegionMask, type Region } from "./regions";
import type { PairOptions, PairRegistration } from "./pair";
import { registerPair } from "./registerPair";
import { ladderExposures, type SetFrame } from "./setFrames";
import { whyNotPlaced } from "./whyNotPlaced";

export interface FrameRegistration extends FitFigures {
  registered: boolean;
  /** undistorted moving → reference, full size; null where not registered */
  matrix: Matrix3 | null;
  lens: Lens | null;
  model: MotionModel;
  residualBeforePx: number;
  /** how far off other solutions lie that explain the frame as well, px, the nearest first */
  otherPx: number[];
  reason: Message | null;
}

export interface SetOptions {
  model: ModelChoice;
  reference: number;
  /** neighbours in exposure (a bracket) or in the order given (a row of frames) are compared first */
  order: "ladder" | "sequence";
  regions?: Region[];
  /** Does what takes long, perhaps elsewhere; which is done when makes no difference to the result. */
  work: SetWork;
}

/** Work on two frames of a set, by their numbers. @property regions whether what is marked on the reference counts */
export interface SetWork {
  /** how many of these may usefully be under way at a time */
  atATime: number;
  pair(fixed: number, moving: number, relativeEv: number, options: Omit<PairOptions, "regions">, regions: boolean): Promise<PairRegistration | null>;
  judge(fixed: number, moving: number, fit: Pick<Fit, "photometry" | "matrix" | "lens" | "fixedLens">, regions: boolean): Promise<FitFigures>;
}

/** The work of a set here and now, one thing after the other. @param load gives the grey pyramid of a frame; at most three are kept at a time */
export function workHere(load: (frame: number) => Promise<GreyPyramid>, regions: RegionMask | null): SetWork {
  const held = cached(load, 3);
  return {
    atATime: 1,
    pair: async (a, b, ev, options, marked) => registerPair(await held(a), await held(b), ev, { ...options, regions: marked ? regions : null }),
    judge: async (a, b, fit, marked) => judgeFit({ ...fit, fixed: await held(a), moving: await held(b), regions: marked ? regions : null }),
  };
}

/** Pairs further apart than this share too little usable light to be measured against each other. */
const FARTHEST_EV = 4.6;
/** What a neighbour in the row counts for against one EV when the next frame to compare is chosen. */
const STEP_COST = 1.5;

interface Placed {
  matrix: Matrix3;
  lens: Lens | null;
  model: MotionModel;
  otherPx: number[];
}

/**
 * Registers a set of frames to a reference: each frame is measured against the nearest that is placed already, further pairs are
 * added where they share light, then all are refined together. Where a region has to line up, each frame is measured against the
 * reference there alone. A frame that fits nowhere is left out with a reason.
 */
export async function registerSet(frames: SetFrame[], options: SetOptions): Promise<FrameRegistration[]> {
  const { reference } = options;
  const brightest = frames.map((_, i) => i).sort((a, b) => frames[a].brightness - frames[b].brightness);
  const relativeEv = ladderExposures(frames, brightest);
  const { width, height } = frames[reference];
  const regions = options.regions?.length ? new RegionMask(options.regions, width, height) : null;
  const { work } = options;
  const placed: (Placed | null)[] = frames.map(() => null);
  placed[reference] = UNMOVED;
  if (regions?.pinned) {
    const pairs = frames.map(
      (frame, i) => () => (i === reference ? null : work.pair(reference, i, relativeEv[i] - relativeEv[reference], wantedOf(frame, options.model), true)),
    );
    (await atATime(pairs, work.atATime)).forEach((found, i) => {
      if (found) placed[i] = { matrix: invert(found.matrix), lens: found.lens, model: found.model, otherPx: found.otherPx };
    });
  } else await placeAll(frames, options, relativeEv, placed);

  const known = options.model === "auto" && !regions ? await leaveStill(frames, options, relativeEv, placed) : new Map<number, FitFigures>();

  const judged = frames.map((_, i) => async (): Promise<FrameRegistration> => {
    const place = placed[i];
    const nothing = { residualPx: 0, residualBeforePx: 0, shifts: [], drift: null, models: [] };
    if (i === reference) return { ...place!, ...nothing, registered: true, agreeing: 1, confidence: 1, reason: null };
    if (!place) {
      const reason = whyNotPlaced(frames, i, reference, relativeEv, regions);
      return { ...nothing, ...UNMOVED, registered: false, matrix: null, agreeing: 0, confidence: 0, reason };
    }
    const against = regions?.pinned ? reference : partner(i, placed, relativeEv, reference, options.order);
    const fit = fitOf(place, placed[against]!, relativeEv[i] - relativeEv[against]);
    // regions are places of the reference
    const figures = known.get(i) ?? (await work.judge(against, i, fit, against === reference));
    // of solutions that explain the frame as well, each may be the right one
    const confidence = Math.min(figures.confidence, 1 / (1 + place.otherPx.length));
    return { ...place, ...figures, confidence, registered: true, residualBeforePx: displacementPx(place.matrix, width, height), reason: null };
  });
  return atATime(judged, work.atATime);
}

/** Where the reference is, and what stands still. */
const UNMOVED: Placed = { matrix: IDENTITY, lens: null, model: "translation", otherPx: [] };

const fitOf = (place: Placed, against: Placed, relativeEv: number) => ({
  photometry: createPhotometry(relativeEv),
  matrix: multiply(invert(place.matrix), against.matrix),
  lens: place.lens,
  fixedLens: against.lens,
});

/** How far a frame may have been moved, px RMS, and still be looked at for having stood still. */
const HARDLY_PX = 4;
/** What no picture shows, px RMS, at whatever price: resampling for it would cost more than it mends. Common practice, no source. */
const NOTHING_PX = 0.05;
/** What a movement must explain before it is believed: less is what noise, blur and changing light make of a frame that stood still. Common practice, no source. */
const BELIEVED = { px: 0.03, agreeing: 0.02 };

/**
 * "Nothing moved" is a model like the others, the simplest: a frame that agrees as well where it is stays where it is, and is not resampled. What is left after
 * registering is then never more than before.
 * @returns figures of frames that were judged against the reference on the way
 */
async function leaveStill(
  frames: SetFrame[],
  { reference, order, work }: SetOptions,
  relativeEv: number[],
  placed: (Placed | null)[],
): Promise<Map<number, FitFigures>> {
  const { width, height } = frames[reference];
  const candidates = frames.flatMap((frame, i) => {
    const place = placed[i];
    const mayBe = place && i !== reference && frame.width === width && frame.height === height && displacementPx(place.matrix, width, height) < HARDLY_PX;
    return mayBe ? [i] : [];
  });
  const partners = new Map(candidates.map((i) => [i, partner(i, placed, relativeEv, reference, order)]));
  const still = new Set([reference]);
  const figures = new Map<number, FitFigures>();
  const look = (i: number) => async () => {
    const against = partners.get(i)!;
    const ev = relativeEv[i] - relativeEv[against];
    const moved =
      displacementPx(placed[i]!.matrix, width, height) < NOTHING_PX
        ? null
        : await work.judge(against, i, fitOf(placed[i]!, placed[against]!, ev), against === reference);
    const stood = await work.judge(against, i, fitOf(UNMOVED, UNMOVED, ev), against === reference);
    const stands = !moved || (stood.residualPx <= moved.residualPx + BELIEVED.px && stood.agreeing >= moved.agreeing - BELIEVED.agreeing);
    if (stands) still.add(i);
    if (against === reference) figures.set(i, stands ? stood : moved);
  };
  // against the reference first: who is judged by another frame stands still only where that one does
  const direct = candidates.filter((i) => partners.get(i) === reference);
  await atATime(
    direct.map((i) => look(i)),
    work.atATime,
  );
  for (let waiting = candidates.filter((i) => !direct.includes(i)), before = -1; waiting.length !== before;) {
    before = waiting.length;
    const ready = waiting.filter((i) => still.has(partners.get(i)!));
    waiting = waiting.filter((i) => !ready.includes(i));
    await atATime(
      ready.map((i) => look(i)),
      work.atATime,
    );
  }
  for (const i of still) if (i !== reference) placed[i] = { ...UNMOVED, otherPx: placed[i]!.otherPx };
  return figures;
}

/** Places frame after frame, each against the nearest that is placed, then refines all together. */
async function placeAll(frames: SetFrame[], options: SetOptions, relativeEv: number[], placed: (Placed | null)[]): Promise<void> {
  const { reference, model, work } = options;
  const edges: PairEdge[] = [];
  const models = new Set<MotionModel>();
  const apart = (a: number, b: number) => Math.abs(relativeEv[a] - relativeEv[b]) + (options.order === "sequence" ? STEP_COST * Math.abs(a - b) : 0);
  const begin = (a: number, b: number, extra: Partial<PairOptions>) =>
    work.pair(a, b, relativeEv[b] - relativeEv[a], { ...wantedOf(frames[b], model), ...extra }, a === reference);
  const take = (a: number, b: number, result: PairRegistration | null): PairRegistration | null => {
    if (result) {
      edges.push({ fixed: a, moving: b, matrix: result.matrix, information: result.information });
      models.add(result.model);
    }
    return result;
  };
  const nearestOf = (known: number[], i: number) => known.slice().sort((a, b) => apart(a, i) - apart(b, i));
  const nextOf = (known: number[], waiting: number[]) => [...waiting].sort((a, b) => apart(nearestOf(known, a)[0], a) - apart(nearestOf(known, b)[0], b))[0];
  // what comes if every frame finds its place is begun ahead; a lens that turns up on the way makes that useless for those against it
  const plan: [from: number, next: number][] = [];
  for (let known = [reference], waiting = frames.map((_, i) => i).filter((i) => i !== reference); waiting.length > 0;) {
    const next = nextOf(known, waiting);
    plan.push([nearestOf(known, next)[0], next]);
    known = [...known, next];
    waiting = waiting.filter((i) => i !== next);
  }
  const ahead = new Map<number, { from: number; result: Promise<PairRegistration | null> }>();
  let planned = 0;
  const look = () => {
    while (planned < plan.length && ahead.size < work.atATime) {
      const [from, next] = plan[planned++];
      if (placed[next]) continue;
      const result = begin(from, next, { effort: 4 });
      result.catch(() => undefined);
      ahead.set(next, { from, result });
    }
  };
  const waiting = new Set(frames.map((_, i) => i).filter((i) => i !== reference));
  while (waiting.size > 0) {
    look();
    const known = placed.flatMap((p, i) => (p ? [i] : []));
    const next = nextOf(known, [...waiting]);
    waiting.delete(next);
    const begun = ahead.get(next);
    ahead.delete(next);
    // the wide search is tried against the nearest only; against others the frame is near or it is another scene
    for (const [k, from] of nearestOf(known, next).slice(0, 3).entries()) {
      const lens = placed[from]?.lens;
      const same = k === 0 && begun?.from === from && !hasLens(lens ?? null);
      const result = take(from, next, await (same ? begun.result : begin(from, next, { effort: k === 0 ? 4 : 1, fixedLens: lens })));
      if (!result) continue;
      const matrix = normalize(multiply(placed[from]!.matrix, invert(result.matrix)));
      // a frame is no better known than the one it was placed by
      const otherPx = result.otherPx.length > 0 ? result.otherPx : placed[from]!.otherPx;
      placed[next] = { matrix, lens: result.lens, model: result.model, otherPx };
      break;
    }
  }
  // pairs two steps apart tie the chain together
  const order = frames.map((_, i) => i).filter((i) => placed[i]);
  if (options.order === "ladder") order.sort((a, b) => relativeEv[a] - relativeEv[b]);
  const measured = new Set(edges.map((e) => `${Math.min(e.fixed, e.moving)}-${Math.max(e.fixed, e.moving)}`));
  const ties: [number, number][] = [];
  for (let k = 0; k + 2 < order.length; k++) {
    const [a, b] = [order[k], order[k + 2]];
    if (!measured.has(`${Math.min(a, b)}-${Math.max(a, b)}`) && Math.abs(relativeEv[a] - relativeEv[b]) <= FARTHEST_EV) ties.push([a, b]);
  }
  const tie = ([a, b]: [number, number]) => {
    const { lens } = placed[b]!;
    return begin(a, b, { start: multiply(invert(placed[b]!.matrix), placed[a]!.matrix), ...(lens && { lens }), fixedLens: placed[a]!.lens });
  };
  const tied = await atATime(
    ties.map((pair) => () => tie(pair)),
    work.atATime,
  );
  ties.forEach(([a, b], k) => take(a, b, tied[k]));
  const richest = [...models].sort((a, b) => FREEDOM[b] - FREEDOM[a])[0] ?? "homography";
  const { width, height } = frames[reference];
  const refined = adjustSet(
    placed.map((p) => p?.matrix ?? null),
    edges,
    reference,
    width,
    height,
    richest,
  );
  refined.forEach((matrix, i) => {
    const place = placed[i];
    if (matrix && place && i !== reference)
      placed[i] = { ...place, matrix, model: hasLens(place.lens) ? "radial" : richest === "radial" ? "homography" : richest };
  });
}

/** What is solved for a frame: a lens that is known and undone is not looked for again. */
export function wantedOf(frame: Pick<SetFrame, "straight">, model: ModelChoice): { model: ModelChoice; lens: Lens | null } {
  return frame.straight ? { model: model === "radial" ? "homography" : model, lens: { k1: 0, k2: 0 } } : { model, lens: null };
}

/** The partner a frame is judged against: the reference where it shares enough light and lies near, else the nearest placed frame. */
function partner(frame: number, placed: (Placed | null)[], ev: number[], reference: number, order: SetOptions["order"]): number {
  const near = order === "sequence" ? Math.abs(frame - reference) <= 1 : true;
  if (near && Math.abs(ev[frame] - ev[reference]) <= FARTHEST_EV) return reference;
  const apart = (i: number) => Math.abs(ev[i] - ev[frame]) + (order === "sequence" ? STEP_COST * Math.abs(i - frame) : 0);
  return (
    placed
      .map((p, i) => (p && i !== frame ? i : -1))
      .filter((i) => i >= 0)
      .sort((a, b) => apart(a) - apart(b))[0] ?? reference
  );
}

/** Keeps the last few results of an expensive loader. */
function cached<T>(load: (key: number) => Promise<T>, held: number): (key: number) => Promise<T> {
  const kept = new Map<number, T>();
  return async (key) => {
    const hit = kept.get(key);
    if (hit !== undefined) {
      kept.delete(key);
      kept.set(key, hit);
      return hit;
    }
    if (kept.size >= held) kept.delete(kept.keys().next().value!);
    const value = await load(key);
    kept.set(key, value);
    return value;
  };
}
