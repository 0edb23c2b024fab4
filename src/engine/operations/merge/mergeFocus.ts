import { DepthFinder, focusWeight, PAUSES } from "../../../core/focus/DepthFinder";
import { CELL, sharpnessOf } from "../../../core/focus/sharpness";
import { coveredSpan } from "../../../core/geometry/rowSpan";
import type { Plane } from "../../../core/raster/raster";
import { enlargedRow } from "../../../core/raster/enlargedRow";
import { gridAround } from "../../../core/raster/planeParts";
import type { EngineContext } from "../../EngineContext";
import { contentKey } from "../../graph/keys";
import { portion, type Task } from "../../task";
import type { RasterFile } from "../../tiles/RasterStore";
import { fillCoverage } from "./mergeInputs";
import { allocatePlanes, readEncoded } from "../frames/frameSamples";
import { blendPyramids, type WeightOf } from "./blendPyramids";
import { storedMerge } from "./storedMerge";
import type { MergeFrame, MergeInputs, MergeResult } from "./mergeTypes";

const FOCUS_VERSION = 4;
const DEPTH_VERSION = 4;
/** Rows at once, a multiple of CELL. */
const ROWS = 128;
/** Difference of exposure from which frames are brought to the reference's, EV. */
const LEAST_EV = 0.02;

/** Sharp at every distance: the frame that is sharpest at each place, joined band by band. */
export async function mergeFocus(ctx: EngineContext, unlevelled: MergeInputs, task: Task): Promise<MergeResult> {
  const inputs = levelled(unlevelled);
  const key = contentKey("focus", FOCUS_VERSION, [inputs.key, DEPTH_VERSION]);
  const depth = await focusDepth(ctx, unlevelled, portion(task, 0, 0.5));
  const make = async ({ picture, dominant, shares }: MergeResult) => {
    const weightOf = await weightsOf(inputs, depth, dominant, portion(task, 0.5, 0.6));
    await blendPyramids(ctx, inputs, weightOf, picture, portion(task, 0.6, 1), shares);
  };
  const merged = await storedMerge(ctx, key, inputs, make, { halved: true });
  return { ...merged, depth };
}

/** Frames as they would look at the reference's exposure, so that tones run through where one frame gives way to another. */
function levelled(inputs: MergeInputs): MergeInputs {
  const frames = inputs.frames.map((f): MergeFrame => {
    if (Math.abs(f.relativeEv) < LEAST_EV) return f;
    const gain = 2 ** -f.relativeEv;
    return { ...f, color: { ...f.color, name: `${f.color.name}, levelled`, toWorking: f.color.toWorking.map((v) => v * gain) } };
  });
  return { ...inputs, frames };
}

/** The depth of a focus stack: channel 0 the index of the sharpest frame, fractional, channel 1 the confidence, channel 2 the index by which frames are joined; a sample for each cell. */
export async function focusDepth(ctx: EngineContext, unlevelled: MergeInputs, task: Task): Promise<RasterFile> {
  const inputs = levelled(unlevelled);
  const key = contentKey("depth", DEPTH_VERSION, [inputs.key]);
  return ctx.cache.makeOnce(key, async () => {
    const known = await ctx.rasters.open(key);
    if (known) return known;
    const { width, height, frames } = inputs;
    const finder = new DepthFinder({ width, height }, ctx.filters);
    const looking = portion(task, 0, 0.8);
    for (const [k, input] of frames.entries()) {
      const noise = input.frame.measures.noiseSigma / 255;
      const energy = new Float32Array(finder.width * finder.height);
      const light = new Float32Array(finder.width * finder.height);
      for (let y0 = 0; y0 < height; y0 += ROWS) {
        await looking.step(k + y0 / height, frames.length, "task.lookingForSharpness");
        const rows = Math.min(ROWS, height - y0);
        const strip = readStrip(ctx, input, width, height, y0, rows);
        const found = sharpnessOf(strip.light, strip.covered, width, rows);
        energy.set(found.energy, (y0 / CELL) * finder.width);
        light.set(found.mean, (y0 / CELL) * finder.width);
      }
      finder.add(energy, light, noise);
    }
    const smoothing = portion(task, 0.8, 1);
    let done = 0;
    const depth = await finder.finish(() => smoothing.step(done++, PAUSES, "task.smoothingDepth"));
    const file = await ctx.rasters.create(key, { width: depth.width, height: depth.height, channels: 3, type: "f32", levels: 1 });
    file.write(0, 0, 0, depth.index);
    file.write(0, 1, 0, depth.confidence);
    file.write(0, 2, 0, depth.choice);
    await file.commit();
    return file;
  });
}

/** Encoded green and coverage of some rows, with a row above and one below; the border is repeated. */
function readStrip(ctx: EngineContext, input: MergeFrame, width: number, height: number, y0: number, rows: number) {
  const { kernels } = ctx;
  const top = Math.max(0, y0 - 1);
  const bottom = Math.min(height, y0 + rows + 1);
  const n = width * (bottom - top);
  return kernels.withScope((scope) => {
    const planes = allocatePlanes(scope, n);
    const coverage = scope.floats(n + 16);
    readEncoded(scope, input.file, input.color, top, bottom - top, width, planes);
    fillCoverage(kernels, input, width, top, bottom, coverage);
    const padded = (at: number): Float32Array => {
      const from = kernels.f32(at, n);
      const out = new Float32Array(width * (rows + 2));
      out.set(from, top === y0 ? width : 0);
      if (top === y0) out.copyWithin(0, width, 2 * width);
      if (bottom === y0 + rows) out.copyWithin((rows + 1) * width, rows * width, (rows + 1) * width);
      return out;
    };
    return { light: padded(planes.g), covered: padded(coverage) };
  });
}

/** Rows of a frame in which samples are no numbers: 1 where they are none. Each frame is looked through once. */
async function emptyRows({ file }: MergeFrame, width: number, height: number, task: Task): Promise<Map<number, Uint8Array>> {
  const found = new Map<number, Uint8Array>();
  if (file.spec.type !== "f32") return found;
  const samples = new Float32Array(width * ROWS);
  for (let top = 0; top < height; top += ROWS) {
    await task.step(top, height, "task.weighing");
    const rows = Math.min(ROWS, height - top);
    for (let c = 0; c < 3; c++) {
      file.read(0, c, 0, top, width, rows, samples);
      for (let i = 0; i < rows * width; i++) {
        if (!Number.isNaN(samples[i])) continue;
        const y = top + Math.floor(i / width);
        const row = found.get(y) ?? new Uint8Array(width);
        row[i % width] = 1;
        found.set(y, row);
      }
    }
  }
  return found;
}

/** Weights from the depth; what a frame does not cover the reference gives, and what is no number in it the nearest in depth that has one. Fills the map of who gives most. */
async function weightsOf(inputs: MergeInputs, depth: RasterFile, dominant: RasterFile, task: Task): Promise<WeightOf> {
  const { width, height, frames, reference } = inputs;
  const cells = depthField(depth, 2);
  const line = new Float32Array(width);
  const spanOf = (k: number, y: number) => coveredSpan(frames[k].inverse, frames[k].frame.width, frames[k].frame.height, y, width, frames[k].lens);
  const index = new Uint8Array(width);
  const given = new Float32Array(width);
  const looking = portion(task, 0, 0.5);
  const empties: Map<number, Uint8Array>[] = [];
  for (const [k, frame] of frames.entries()) empties.push(await emptyRows(frame, width, height, portion(looking, k / frames.length, (k + 1) / frames.length)));
  const weights = new Float32Array(frames.length);
  /** Tells whether a frame has no number at a px of a row, and then fills `weights`: what is none in it the nearest in depth gives that has one. */
  const standIns = (y: number): ((x: number) => boolean) | null => {
    const empty = empties.map((rows) => rows.get(y));
    if (empty.every((row) => row === undefined)) return null;
    const spans = frames.map((_, k) => spanOf(k, y));
    return (x) => {
      if (!empty.some((row) => row?.[x])) return false;
      let [rest, nearest] = [1, -1];
      for (let k = 0; k < frames.length; k++) {
        weights[k] = 0;
        if (x < spans[k][0] || x >= spans[k][1] || empty[k]?.[x]) continue;
        weights[k] = focusWeight(line[x], k);
        rest -= weights[k];
        if (nearest < 0 || Math.abs(k - line[x]) < Math.abs(nearest - line[x])) nearest = k;
      }
      weights[nearest < 0 ? reference : nearest] += rest;
      return true;
    };
  };
  /** What the two frames nearest in depth give in a row, by what they cover; `line` holds the depth. */
  const fillGiven = (y: number) => {
    const spans = frames.map((_, k) => spanOf(k, y));
    for (let x = 0; x < width; x++) {
      const low = Math.floor(line[x]);
      given[x] = 0;
      for (const k of [low, low + 1]) if (k < frames.length && x >= spans[k][0] && x < spans[k][1]) given[x] += focusWeight(line[x], k);
    }
  };
  const weighing = portion(task, 0.5, 1);
  for (let y = 0; y < height; y++) {
    if (y % ROWS === 0) await weighing.step(y, height, "task.weighing");
    enlargedRow(cells, CELL, y, line);
    fillGiven(y);
    const instead = standIns(y);
    for (let x = 0; x < width; x++) {
      if (instead?.(x)) index[x] = weights.indexOf(Math.max(...weights));
      else index[x] = given[x] < 0.5 ? reference : Math.round(line[x]);
    }
    dominant.write(0, 0, y, index);
  }
  return (k, y0, rows, out) => {
    for (let row = 0, i = 0; row < rows; row++) {
      const y = y0 + row;
      enlargedRow(cells, CELL, y, line);
      const [from, to] = spanOf(k, y);
      if (k === reference) fillGiven(y);
      const instead = standIns(y);
      for (let x = 0; x < width; x++, i++) {
        if (instead?.(x)) out[i] = weights[k];
        else out[i] = (x >= from && x < to ? focusWeight(line[x], k) : 0) + (k === reference ? 1 - given[x] : 0);
      }
    }
  };
}

/** A channel of the depth, a sample for each cell. */
function depthField(depth: RasterFile, channel: number): Plane {
  const { width, height } = depth.spec;
  const data = new Float32Array(width * height);
  depth.read(0, channel, 0, 0, width, height, data);
  return { width, height, data };
}

/** Rows of the depth at the picture's size, for a file. */
export function readDepthRows(depth: RasterFile, width: number, y0: number, rows: number): Float32Array {
  const held = gridAround(depth.spec, 1 / CELL, { x: 0, y: y0, width, height: rows });
  const data = new Float32Array(depth.spec.width * held.height);
  depth.read(0, 0, 0, held.y, depth.spec.width, held.height, data);
  const cells = { width: depth.spec.width, height: held.height, data };
  const out = new Float32Array(width * rows);
  for (let y = 0; y < rows; y++) enlargedRow(cells, CELL, y0 + y - held.y * CELL, out.subarray(y * width, (y + 1) * width));
  return out;
}
