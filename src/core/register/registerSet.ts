import { IDENTITY, invert, multiply, normalize, type Matrix3 } from "../geometry/matrix3";
import { measureRelativeExposure, thumbprint, type Thumbprint } from "../measure/relativeExposure";
import { adjustSet, type PairEdge } from "./adjustSet";
import { levelOf, type GreyPyramid } from "./greyPyramid";
import { measureLocalShifts, type LocalShift } from "./localShifts";
import { createPhotometry } from "./photometry";
import { displacementPx, registerPair, summarizeShifts } from "./registerPair";
import type { MotionModel } from "./refine";

export interface SetFrame {
  width: number;
  height: number;
  /** mean linear luminance, for the order of the ladder */
  brightness: number;
  print: Thumbprint;
}

export interface FrameRegistration {
  registered: boolean;
  /** moving → reference, full size; null where not registered */
  matrix: Matrix3 | null;
  residualPx: number;
  residualBeforePx: number;
  agreeing: number;
  confidence: number;
  shifts: LocalShift[];
  reason: string | null;
}

export interface SetOptions {
  model: MotionModel;
  reference: number;
  /** Loads the grey pyramid of a frame; at most `held` are kept at a time. */
  load: (frame: number) => Promise<GreyPyramid>;
  onProgress?: (done: number, total: number) => void;
}

/** Pairs further apart than this share too little usable light to be measured against each other. */
const FARTHEST_EV = 4.6;

export function describeFrame(pyramid: GreyPyramid): SetFrame {
  const level = Math.min(2, pyramid.levels.length - 1);
  const print = thumbprint(levelOf(pyramid, level));
  const brightness = print.linear.reduce((sum, v) => sum + v, 0) / print.linear.length;
  return { width: pyramid.width, height: pyramid.height, brightness, print };
}

/**
 * Registers a set of frames to a reference: neighbours of the exposure ladder are measured against each other, further pairs are
 * added where they share light, then all are refined together. A frame that fits nowhere is left out with a reason.
 */
export async function registerSet(frames: SetFrame[], options: SetOptions): Promise<FrameRegistration[]> {
  const { reference, model } = options;
  const load = cached(options.load, 3);
  const order = frames.map((_, i) => i).sort((a, b) => frames[a].brightness - frames[b].brightness);
  const relativeEv = ladderExposures(frames, order);
  const edges: PairEdge[] = [];
  const total = frames.length * 2;
  let done = 0;
  const tick = () => options.onProgress?.(Math.min(++done, total), total);
  const measure = async (a: number, b: number, start?: Matrix3, searches?: number) => {
    const result = registerPair(await load(a), await load(b), relativeEv[b] - relativeEv[a], { model, start, searches });
    if (result) edges.push({ fixed: a, moving: b, matrix: result.matrix, information: result.information });
    return result;
  };

  const placed: (Matrix3 | null)[] = frames.map(() => null);
  placed[reference] = IDENTITY;
  const at = order.indexOf(reference);
  for (const direction of [1, -1]) {
    let known = [reference];
    for (let k = at + direction; k >= 0 && k < order.length; k += direction) {
      const frame = order[k];
      // the wide search is tried against the nearest neighbour only; against others the frame is near or it is another scene
      for (const [k, from] of known.slice(-3).reverse().entries()) {
        const result = await measure(from, frame, undefined, k === 0 ? undefined : 1);
        if (!result) continue;
        placed[frame] = normalize(multiply(placed[from]!, invert(result.matrix)));
        known = [...known, frame];
        break;
      }
      tick();
    }
  }
  // pairs two rungs apart tie the chain together
  for (let k = 0; k + 2 < order.length; k++) {
    const [a, b] = [order[k], order[k + 2]];
    if (placed[a] && placed[b] && Math.abs(relativeEv[a] - relativeEv[b]) <= FARTHEST_EV) {
      await measure(a, b, multiply(invert(placed[b]!), placed[a]!));
    }
    tick();
  }
  const { width, height } = frames[reference];
  const refined = model === "homography" ? adjustSet(placed, edges, reference, width, height) : placed;

  const results: FrameRegistration[] = [];
  for (let i = 0; i < frames.length; i++) {
    const matrix = refined[i];
    if (i === reference) {
      results.push({ registered: true, matrix: IDENTITY, residualPx: 0, residualBeforePx: 0, agreeing: 1, confidence: 1, shifts: [], reason: null });
      continue;
    }
    if (!matrix) {
      results.push({
        registered: false,
        matrix: null,
        residualPx: 0,
        residualBeforePx: 0,
        agreeing: 0,
        confidence: 0,
        shifts: [],
        reason: leftOut(frames, i, reference),
      });
      continue;
    }
    const against = partner(i, edges, relativeEv, reference);
    const shifts = measureLocalShifts(
      levelOf(await load(against), 0),
      levelOf(await load(i), 0),
      createPhotometry(relativeEv[i] - relativeEv[against]),
      multiply(invert(matrix), refined[against]!),
    );
    const summary = summarizeShifts(shifts);
    results.push({
      registered: true,
      matrix,
      residualPx: summary.residualPx,
      residualBeforePx: displacementPx(matrix, width, height),
      agreeing: summary.agreeing,
      confidence: confidenceOf(summary.agreeing, summary.places),
      shifts,
      reason: null,
    });
    tick();
  }
  return results;
}

/** The partner nearest in exposure: the reference itself where it shares enough light. */
function partner(frame: number, edges: PairEdge[], ev: number[], reference: number): number {
  if (Math.abs(ev[frame] - ev[reference]) <= FARTHEST_EV) return reference;
  const partners = edges.filter((e) => e.fixed === frame || e.moving === frame).map((e) => (e.fixed === frame ? e.moving : e.fixed));
  return partners.sort((a, b) => Math.abs(ev[a] - ev[frame]) - Math.abs(ev[b] - ev[frame]))[0] ?? reference;
}

/** Agreement, less what a handful of places can prove: 8 agreeing places count for 63 %, 24 for 95 %. */
function confidenceOf(agreeing: number, places: number): number {
  return Math.min(1, agreeing * 1.05) * (1 - Math.exp(-places / 8));
}

function leftOut(frames: SetFrame[], frame: number, reference: number): string {
  const [a, b] = [frames[frame], frames[reference]];
  if (a.width < 32 || a.height < 32) return `The frame is only ${a.width}×${a.height} px; registration needs at least 32×32.`;
  if (a.width !== b.width || a.height !== b.height) return "The frame has another size and no part of it was found in the reference.";
  return "Too little of this frame agrees with any other frame: it seems to show another scene.";
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
