import { hasLens, type Lens } from "../geometry/lens";
import { IDENTITY, invert, multiply, normalize, type Matrix3 } from "../geometry/matrix3";
import { measureRelativeExposure, thumbprint, type Thumbprint } from "../measure/relativeExposure";
import { adjustSet, type PairEdge } from "./adjustSet";
import { levelOf, type GreyPyramid } from "./greyPyramid";
import { measureLocalShifts, type LocalShift } from "./localShifts";
import { compareModels, FREEDOM, type ModelChoice, type MotionModel } from "./models";
import { createPhotometry } from "./photometry";
import { RegionMask, type Region } from "./regions";
import { correspondencesOf, displacementPx, registerPair, summarizeShifts, type PairRegistration } from "./registerPair";

export interface SetFrame {
  width: number;
  height: number;
  /** mean linear luminance, for the order of the ladder */
  brightness: number;
  print: Thumbprint;
  /** lens of the frame where it is known and not to be measured */
  lens?: Lens | null;
  /** 10 to 90 % width of its sharpest edges, px; 0 where unknown */
  edgeWidthPx?: number;
}

export interface FrameRegistration {
  registered: boolean;
  /** undistorted moving → reference, full size; null where not registered */
  matrix: Matrix3 | null;
  lens: Lens | null;
  model: MotionModel;
  residualPx: number;
  residualBeforePx: number;
  agreeing: number;
  confidence: number;
  shifts: LocalShift[];
  /** where regions are pinned: what is left outside them, px (RMS) and the share that agrees; else null */
  drift: { rmsPx: number; agreeing: number } | null;
  /** RMS of what each model leaves, px, for the places that agree */
  models: { model: MotionModel; rmsPx: number }[];
  reason: string | null;
}

export interface SetOptions {
  model: ModelChoice;
  reference: number;
  /** neighbours in exposure (a bracket) or in the order given (a row of frames) are compared first */
  order: "ladder" | "sequence";
  regions?: Region[];
  /** Loads the grey pyramid of a frame; at most three are kept at a time. */
  load: (frame: number) => Promise<GreyPyramid>;
}

/** Pairs further apart than this share too little usable light to be measured against each other. */
const FARTHEST_EV = 4.6;
/** What a neighbour in the row counts for against one EV when the next frame to compare is chosen. */
const STEP_COST = 1.5;

export function describeFrame(pyramid: GreyPyramid): SetFrame {
  const level = Math.min(2, pyramid.levels.length - 1);
  const print = thumbprint(levelOf(pyramid, level));
  const brightness = print.linear.reduce((sum, v) => sum + v, 0) / print.linear.length;
  return { width: pyramid.width, height: pyramid.height, brightness, print };
}

interface Placed {
  matrix: Matrix3;
  lens: Lens | null;
  model: MotionModel;
}

/**
 * Registers a set of frames to a reference: each frame is measured against the nearest that is placed already, further pairs are
 * added where they share light, then all are refined together. Where a region has to line up, each frame is measured against the
 * reference there alone. A frame that fits nowhere is left out with a reason.
 */
export async function registerSet(frames: SetFrame[], options: SetOptions): Promise<FrameRegistration[]> {
  const { reference } = options;
  const load = cached(options.load, 3);
  const brightest = frames.map((_, i) => i).sort((a, b) => frames[a].brightness - frames[b].brightness);
  const relativeEv = ladderExposures(frames, brightest);
  const { width, height } = frames[reference];
  const regions = options.regions?.length ? new RegionMask(options.regions, width, height) : null;
  const placed: (Placed | null)[] = frames.map(() => null);
  placed[reference] = { matrix: IDENTITY, lens: frames[reference].lens ?? null, model: "translation" };
  if (regions?.pinned) {
    for (const [i, frame] of frames.entries()) {
      if (i === reference) continue;
      const { model } = options;
      const found = registerPair(await load(reference), await load(i), relativeEv[i] - relativeEv[reference], { model, regions, lens: frame.lens });
      if (found) placed[i] = { matrix: invert(found.matrix), lens: found.lens, model: found.model };
    }
  } else await placeAll(frames, options, relativeEv, placed, regions, load);

  const results: FrameRegistration[] = [];
  for (let i = 0; i < frames.length; i++) {
    const place = placed[i];
    const nothing = { residualPx: 0, residualBeforePx: 0, shifts: [], drift: null, models: [] };
    if (i === reference) {
      results.push({ ...place!, ...nothing, registered: true, agreeing: 1, confidence: 1, reason: null });
      continue;
    }
    if (!place) {
      const reason = leftOut(frames, i, reference, relativeEv);
      results.push({ ...nothing, registered: false, matrix: null, lens: null, model: "translation", agreeing: 0, confidence: 0, reason });
      continue;
    }
    const against = regions?.pinned ? reference : partner(i, placed, relativeEv, reference, options.order);
    results.push({ registered: true, ...place, ...(await judgePlacement(frames, load, i, against, placed, relativeEv, regions, width, height)), reason: null });
  }
  return results;
}

/** Measures a placed frame against a partner: inside the pinned regions for the headline, outside for the drift. */
async function judgePlacement(
  frames: SetFrame[],
  load: (frame: number) => Promise<GreyPyramid>,
  frame: number,
  against: number,
  placed: (Placed | null)[],
  relativeEv: number[],
  regions: RegionMask | null,
  width: number,
  height: number,
) {
  const { matrix, lens } = placed[frame]!;
  const photometry = createPhotometry(relativeEv[frame] - relativeEv[against]);
  const fixed = await load(against);
  const moving = await load(frame);
  const toMoving = multiply(invert(matrix), placed[against]!.matrix);
  const common = { lens, fixedLens: placed[against]!.lens };
  const all = measureLocalShifts(levelOf(fixed, 0), levelOf(moving, 0), photometry, toMoving, common);
  // places are the partner's; regions are the reference's, and only where the partner is the reference do they meet exactly
  const counts = (s: LocalShift) => !regions || regions.has(s.x, s.y);
  const inside = regions?.pinned
    ? measureLocalShifts(levelOf(fixed, 0), levelOf(moving, 0), photometry, toMoving, { ...common, selection: regions.atLevel(0) })
    : all.filter(counts);
  const outside = regions?.pinned ? all.filter((s) => !counts(s)) : [];
  const summary = summarizeShifts(inside);
  const away = outside.filter((s) => s.correlation >= 0.6);
  const drift = regions?.pinned
    ? {
        rmsPx: away.length ? Math.sqrt(away.reduce((sum, s) => sum + s.dx * s.dx + s.dy * s.dy, 0) / away.length) : 0,
        agreeing: summarizeShifts(outside).agreeing,
      }
    : null;
  const compared = compareModels(correspondencesOf(inside, toMoving, lens, frames[frame]), frames[against], frames[frame], toMoving, lens);
  return {
    residualPx: summary.residualPx,
    residualBeforePx: displacementPx(matrix, width, height),
    agreeing: summary.agreeing,
    confidence: confidenceOf(summary.agreeing, summary.places),
    shifts: [...inside, ...outside],
    drift,
    models: (compared?.fits ?? []).map((f) => ({ model: f.model, rmsPx: f.rmsPx })),
  };
}

/** Places frame after frame, each against the nearest that is placed, then refines all together. */
async function placeAll(
  frames: SetFrame[],
  options: SetOptions,
  relativeEv: number[],
  placed: (Placed | null)[],
  regions: RegionMask | null,
  load: (frame: number) => Promise<GreyPyramid>,
): Promise<void> {
  const { reference, model } = options;
  const edges: PairEdge[] = [];
  const models = new Set<MotionModel>();
  const apart = (a: number, b: number) => Math.abs(relativeEv[a] - relativeEv[b]) + (options.order === "sequence" ? STEP_COST * Math.abs(a - b) : 0);
  const measure = async (a: number, b: number, extra: { start?: Matrix3; lens?: Lens | null; effort?: 1 | 2 | 3 }): Promise<PairRegistration | null> => {
    const result = registerPair(await load(a), await load(b), relativeEv[b] - relativeEv[a], {
      model,
      lens: extra.lens ?? frames[b].lens,
      fixedLens: placed[a]?.lens,
      start: extra.start,
      effort: extra.effort,
      regions: a === reference ? regions : null,
    });
    if (result) {
      edges.push({ fixed: a, moving: b, matrix: result.matrix, information: result.information });
      models.add(result.model);
    }
    return result;
  };
  const waiting = new Set(frames.map((_, i) => i).filter((i) => i !== reference));
  while (waiting.size > 0) {
    const known = placed.flatMap((p, i) => (p ? [i] : []));
    const nearest = (i: number) => known.slice().sort((a, b) => apart(a, i) - apart(b, i));
    const next = [...waiting].sort((a, b) => apart(nearest(a)[0], a) - apart(nearest(b)[0], b))[0];
    waiting.delete(next);
    // the wide search is tried against the nearest only; against others the frame is near or it is another scene
    for (const [k, from] of nearest(next).slice(0, 3).entries()) {
      const result = await measure(from, next, { effort: k === 0 ? 3 : 1 });
      if (!result) continue;
      placed[next] = { matrix: normalize(multiply(placed[from]!.matrix, invert(result.matrix))), lens: result.lens, model: result.model };
      break;
    }
  }
  // pairs two steps apart tie the chain together
  const order = frames.map((_, i) => i).filter((i) => placed[i]);
  if (options.order === "ladder") order.sort((a, b) => relativeEv[a] - relativeEv[b]);
  const measured = new Set(edges.map((e) => `${Math.min(e.fixed, e.moving)}-${Math.max(e.fixed, e.moving)}`));
  for (let k = 0; k + 2 < order.length; k++) {
    const [a, b] = [order[k], order[k + 2]];
    if (measured.has(`${Math.min(a, b)}-${Math.max(a, b)}`) || Math.abs(relativeEv[a] - relativeEv[b]) > FARTHEST_EV) continue;
    await measure(a, b, { start: multiply(invert(placed[b]!.matrix), placed[a]!.matrix), lens: placed[b]!.lens });
  }
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

/** Agreement, less what a handful of places can prove: 8 agreeing places count for 63 %, 24 for 95 %. */
export function confidenceOf(agreeing: number, places: number): number {
  return Math.min(1, agreeing * 1.05) * (1 - Math.exp(-places / 8));
}

/** Why a frame fits nowhere, as far as its figures tell, and what to do about it. */
function leftOut(frames: SetFrame[], frame: number, reference: number, ev: number[]): string {
  const [a, b] = [frames[frame], frames[reference]];
  const points = "Line it up by control points, or leave it out.";
  if (a.width < 32 || a.height < 32) return `The frame is only ${a.width}×${a.height} px; registration needs at least 32×32.`;
  const gap = Math.min(...frames.flatMap((_, i) => (i === frame ? [] : [Math.abs(ev[i] - ev[frame])])));
  if (gap > 6.2)
    return `No other frame is nearer than ${gap.toFixed(1)} EV in exposure, so hardly any light is usable in both. Add a frame between them, or use control points.`;
  const edges = frames.map((f) => f.edgeWidthPx ?? 0).filter((w) => w > 0);
  const usual = edges.sort((p, q) => p - q)[edges.length >> 1];
  if (a.edgeWidthPx && usual && a.edgeWidthPx > 2 * usual) {
    return `The frame is blurred: its edges are ${a.edgeWidthPx.toFixed(1)} px wide, ${usual.toFixed(1)} px is usual here. ${points}`;
  }
  if (flatness(a.print) < 0.1) return `The frame has hardly any structure to hold on to. ${points}`;
  if (a.width !== b.width || a.height !== b.height) return `The frame has another size and no part of it was found in the reference. ${points}`;
  return `Too little of this frame agrees with any other frame: it seems to show another scene, or overlaps by less than a third. ${points}`;
}

/** Spread of a frame's light between its 5 and 95 % quantiles, EV. */
function flatness(print: Thumbprint): number {
  const sorted = Float32Array.from(print.linear).sort();
  const at = (share: number) => sorted[Math.round(share * (sorted.length - 1))] + 1e-4;
  return Math.log2(at(0.95) / at(0.05));
}

/** Exposure of each frame against the darkest, EV, summed along the ladder from the pixels. */
export function ladderExposures(frames: SetFrame[], order: number[]): number[] {
  const ev = frames.map(() => 0);
  for (let k = 1; k < order.length; k++) {
    const [a, b] = [order[k - 1], order[k]];
    const measured = measureRelativeExposure(frames[a].print, frames[b].print);
    const fallback = Math.log2(Math.max(1e-4, frames[b].brightness) / Math.max(1e-4, frames[a].brightness));
    ev[b] = ev[a] + (measured ?? fallback);
  }
  return ev;
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
