import { hasLens, type Lens } from "../geometry/lens";
import { IDENTITY, invert, multiply, normalize, type Matrix3 } from "../geometry/matrix3";
import { measureRelativeExposure, thumbprint, type Thumbprint } from "../measure/relativeExposure";
import { adjustSet, type PairEdge } from "./adjustSet";
import { levelOf, type GreyPyramid } from "./greyPyramid";
import { displacementPx, judgeFit, type FitFigures } from "./judgeFit";
import { FREEDOM, type ModelChoice, type MotionModel } from "./models";
import { createPhotometry } from "./photometry";
import { RegionMask, type Region } from "./regions";
import { registerPair, type PairRegistration } from "./registerPair";

export interface SetFrame {
  width: number;
  height: number;
  /** mean linear luminance, for the order of the ladder */
  brightness: number;
  print: Thumbprint;
  /** the frame's lens is known and undone already, so none is looked for */
  straight?: boolean;
  /** 10 to 90 % width of its sharpest edges, px; 0 where unknown */
  edgeWidthPx?: number;
}

export interface FrameRegistration extends FitFigures {
  registered: boolean;
  /** undistorted moving → reference, full size; null where not registered */
  matrix: Matrix3 | null;
  lens: Lens | null;
  model: MotionModel;
  residualBeforePx: number;
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
  placed[reference] = { matrix: IDENTITY, lens: null, model: "translation" };
  if (regions?.pinned) {
    for (const [i, frame] of frames.entries()) {
      if (i === reference) continue;
      const found = registerPair(await load(reference), await load(i), relativeEv[i] - relativeEv[reference], { ...wantedOf(frame, options.model), regions });
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
    const figures = judgeFit({
      fixed: await load(against),
      moving: await load(i),
      photometry: createPhotometry(relativeEv[i] - relativeEv[against]),
      matrix: multiply(invert(place.matrix), placed[against]!.matrix),
      lens: place.lens,
      fixedLens: placed[against]!.lens,
      // regions are places of the reference
      regions: against === reference ? regions : null,
    });
    results.push({ ...place, ...figures, registered: true, residualBeforePx: displacementPx(place.matrix, width, height), reason: null });
  }
  return results;
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
  const measure = async (a: number, b: number, extra: { start?: Matrix3; lens?: Lens | null; effort?: 1 | 2 | 3 | 4 }): Promise<PairRegistration | null> => {
    const result = registerPair(await load(a), await load(b), relativeEv[b] - relativeEv[a], {
      ...wantedOf(frames[b], model),
      ...(extra.lens && { lens: extra.lens }),
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
      const result = await measure(from, next, { effort: k === 0 ? 4 : 1 });
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
  return `Too little of this frame agrees with any other frame, or only one part of it does: it shows another scene, overlaps too little, or is nearly empty. ${points}`;
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
