import { message } from "../../../messages/message";
import { fillCells, runBounds } from "../../../core/masks/cellRuns";
import { areasOver, differenceAt, differenceBeyondBlur, extremeAround, type GhostArea, type GhostCells } from "../../../core/merge/findGhosts";
import { mergeKind, type MergeMethod } from "../../../kinds/merges/records";
import type { GhostRecord, Records } from "../../../document/records/types";
import { frameNumber } from "../../../document/selectors";
import type { EngineContext } from "../../EngineContext";
import { bytesHeld } from "../../graph/bytesHeld";
import { contentKey } from "../../graph/keys";
import type { Task } from "../../task";
import { allocatePlanes, each, readLinear } from "../frames/frameSamples";
import { fillCoverage } from "./mergeInputs";
import type { MergeInputs } from "./mergeTypes";

/** Cells that a picture's longer side has at most. */
const MOST_CELLS = 1300;
/** Of a focus stack, which is looked at more often and whose blur reaches over more than a few px. */
const MOST_FOCUS_CELLS = 650;
const LEAST_CELL_PX = 4;
/** Where frames differ over more of the picture than this, they are not one scene in which something moved. Common practice, no source. */
const MOST_AREA = 0.35;
/** Of a focus stack, whose blur is known only roughly, a difference counts for this share of itself. Common practice, no source. */
const SURE = 0.75;
/** A frame of a focus stack is compared with so many before it: those farther apart differ too much in blur. */
const NEAR_IN_FOCUS = 3;
const NOTHING = new Float32Array(0);
/** Differences count for a frame's fitness up to this many multiples of the noise. */
const CAP = 12;

export type GhostProposal = Pick<GhostRecord, "cellPx" | "runs" | "strength" | "proposedId" | "reason">;

export interface FoundGhosts {
  regions: GhostProposal[];
  /** share of the picture */
  share: number;
  /** the frames differ nearly everywhere: nothing is proposed */
  tooMuch: boolean;
}

interface Scene {
  cellPx: number;
  columns: number;
  rows: number;
  frames: GhostCells[];
  gains: number[];
  /** largest difference of any two frames */
  difference: Float32Array;
}

/** How what moved is looked for: with the threshold and the base frame of a merge. */
export interface GhostSearch {
  method: MergeMethod;
  threshold: number;
  baseId: string | null;
}

/** Finds what moved between the frames and proposes for each place the frame to take. */
export async function findGhosts(ctx: EngineContext, records: Records, inputs: MergeInputs, search: GhostSearch, task: Task): Promise<FoundGhosts> {
  const { threshold, baseId } = search;
  const focus = mergeKind(search.method).followsFocus ?? false;
  const scene = await openScene(ctx, inputs, focus, task);
  const { columns, rows, difference, cellPx } = scene;
  const areas = areasOver(difference, columns, rows, threshold);
  const share = areas.reduce((sum, a) => sum + a.cells, 0) / (columns * rows);
  if (share > MOST_AREA) return { regions: [], share, tooMuch: true };
  const regions = areas.map((area): GhostProposal => ({
    cellPx,
    runs: area.runs,
    strength: area.strength,
    ...(focus ? sharpestDonor(records, inputs, scene, area, baseId) : proposeDonor(records, inputs, scene, area, threshold, baseId)),
  }));
  return { regions, share, tooMuch: false };
}

/** Kept, so that a threshold can be moved. */
function openScene(ctx: EngineContext, inputs: MergeInputs, focus: boolean, task: Task): Promise<Scene> {
  const key = contentKey("ghosts", 1, [inputs.key, inputs.noise, ...(focus ? ["beyond blur"] : [])]);
  return ctx.cache.takeLong(key, () => measureScene(ctx, inputs, focus, task), bytesHeld);
}

async function measureScene(ctx: EngineContext, inputs: MergeInputs, focus: boolean, task: Task): Promise<Scene> {
  const cellPx = Math.max(LEAST_CELL_PX, 2 ** Math.ceil(Math.log2(Math.max(inputs.width, inputs.height) / (focus ? MOST_FOCUS_CELLS : MOST_CELLS))));
  const columns = Math.ceil(inputs.width / cellPx);
  const rows = Math.ceil(inputs.height / cellPx);
  const cells = columns * rows;
  const frames: GhostCells[] = [];
  const { noise } = inputs;
  const gains = inputs.frames.map((f) => 2 ** (f.relativeEv + f.frame.development.exposureEv - inputs.frames[inputs.reference].frame.development.exposureEv));
  const difference = new Float32Array(cells);
  for (const [k] of inputs.frames.entries()) {
    frames.push(await measureCells(ctx, inputs, k, cellPx, columns, rows, task));
    if (!focus) continue;
    for (let a = Math.max(0, k - NEAR_IN_FOCUS); a < k; a++) {
      await task.step((k + 1) / inputs.frames.length, 1, "task.comparing");
      const beyond = differenceBeyondBlur(frames[a], frames[k], gains[a], gains[k], noise, columns, k - a);
      for (let i = 0; i < cells; i++) if (SURE * beyond[i] > difference[i]) difference[i] = SURE * beyond[i];
    }
    // a stack may be long: of what is compared no more only what tells the sharpest frame is held
    if (k >= NEAR_IN_FOCUS) frames[k - NEAR_IN_FOCUS] = { ...frames[k - NEAR_IN_FOCUS], mean: NOTHING, top: NOTHING, bottom: NOTHING };
  }
  for (const [a, b] of focus ? [] : pairsOf(gains, inputs.reference)) {
    await task.step(1, 1, "task.comparing");
    for (let i = 0; i < cells; i++) {
      const z = differenceAt(frames[a], frames[b], gains[a], gains[b], noise, i, cells);
      if (z > difference[i]) difference[i] = z;
    }
  }
  return { cellPx, columns, rows, frames, gains, difference };
}

/** All pairs of a few frames; of many each with its neighbours of the ladder and with the reference. */
function pairsOf(gains: number[], reference: number): [number, number][] {
  const order = gains.map((_, k) => k).sort((p, q) => gains[p] - gains[q] || p - q);
  const pairs: [number, number][] = [];
  for (let n = 0; n < order.length; n++) {
    for (let m = n + 1; m < order.length; m++) {
      if (order.length <= 7 || m - n <= 2 || order[n] === reference || order[m] === reference) pairs.push([order[n], order[m]]);
    }
  }
  return pairs;
}

/** Rows of cells at once. */
const CELL_ROWS = 16;

async function measureCells(
  ctx: EngineContext,
  inputs: MergeInputs,
  k: number,
  cellPx: number,
  columns: number,
  rows: number,
  task: Task,
): Promise<GhostCells> {
  const { kernels } = ctx;
  const { width, height } = inputs;
  const input = inputs.frames[k];
  const cells = columns * rows;
  const out: GhostCells = {
    mean: new Float32Array(3 * cells),
    top: new Float32Array(cells),
    bottom: new Float32Array(cells),
    range: new Float32Array(cells),
    covered: new Uint8Array(cells),
  };
  for (let from = 0; from < rows; from += CELL_ROWS) {
    await task.step((k + from / rows) / inputs.frames.length, 1, "task.lookingForMovement");
    const some = Math.min(CELL_ROWS, rows - from);
    const y0 = from * cellPx;
    const high = Math.min(some * cellPx, height - y0);
    kernels.withScope((scope) => {
      const n = width * high;
      const planes = allocatePlanes(scope, n);
      readLinear(scope, input.file, input.color, 0, { x: 0, y: y0, width, height: high }, planes);
      const coverage = scope.floats(n + 16);
      fillCoverage(kernels, input, width, y0, y0 + high, coverage);
      const measured = scope.floats(some * columns * 8 + 16);
      kernels.run("measureCells", [...each(planes), coverage, width, high, cellPx, columns, measured], 0, some, 2);
      const of = kernels.f32(measured, some * columns * 8);
      for (let i = 0; i < some * columns; i++) {
        const c = from * columns + i;
        const count = Math.min(cellPx, height - (from + Math.floor(i / columns)) * cellPx) * Math.min(cellPx, width - (i % columns) * cellPx);
        for (let channel = 0; channel < 3; channel++) out.mean[channel * cells + c] = of[8 * i + channel] / count;
        out.top[c] = of[8 * i + 3];
        out.bottom[c] = of[8 * i + 4];
        out.range[c] = of[8 * i + 6] - of[8 * i + 5];
        out.covered[c] = of[8 * i + 7];
      }
    });
  }
  out.range = extremeAround(out.range, columns, 1, "most");
  return out;
}

interface Fitness {
  k: number;
  clipped: number;
  covered: number;
  /** how many other frames show the same here */
  agreeing: number[];
  noise: number;
  /** structure along the border of the area: little where nothing stands there */
  border: number;
}

/** The frame to take: whole and unclipped, showing what most frames show, then the least noisy; and why, in a sentence. */
function proposeDonor(
  records: Records,
  inputs: MergeInputs,
  scene: Scene,
  area: GhostArea,
  threshold: number,
  baseId: string | null,
): Pick<GhostRecord, "proposedId" | "reason"> {
  const all = inputs.frames.map((_, k) => fitnessOf(inputs, scene, area, k, threshold));
  const numberOf = (k: number) => frameNumber(records, inputs.frames[k].frame.id);
  const whole = all.filter((f) => f.covered > 0.999);
  if (whole.length === 0) return { proposedId: null, reason: message("place.noneCovers", {}) };
  const unclipped = whole.filter((f) => f.clipped < 0.02);
  const percent = (v: number) => (100 * v).toFixed(v < 0.1 ? 1 : 0);
  if (unclipped.length === 0) {
    const least = whole.reduce((best, f) => (f.clipped < best.clipped ? f : best));
    return {
      proposedId: inputs.frames[least.k].frame.id,
      reason: message("place.leastClipped", { number: numberOf(least.k), percent: percent(least.clipped) }),
    };
  }
  const base = unclipped.find((f) => inputs.frames[f.k].frame.id === baseId);
  if (base) return { proposedId: baseId, reason: message("place.base", { number: numberOf(base.k) }) };
  const most = Math.max(...unclipped.map((f) => f.agreeing.length));
  if (most > 0) {
    const best = unclipped.filter((f) => f.agreeing.length === most).reduce((p, f) => (f.noise < p.noise ? f : p));
    const also = best.agreeing.map(numberOf).sort((p, q) => p - q);
    return {
      proposedId: inputs.frames[best.k].frame.id,
      reason: message("place.agrees", { count: also.length, numbers: also, percent: percent(best.noise) }),
    };
  }
  const best = unclipped.reduce((p, f) => (f.border < 0.7 * p.border || (f.border < 1.4 * p.border && f.noise < p.noise) ? f : p));
  const calmest = unclipped.every((f) => f === best || best.border < 0.7 * f.border);
  const reason = message(calmest ? "place.calmest" : "place.leastNoise", { percent: percent(best.noise) });
  return { proposedId: inputs.frames[best.k].frame.id, reason };
}

/** Of a focus stack the frame that is sharpest over the whole of a place, told by how much its light varies within cells; and why. */
function sharpestDonor(
  records: Records,
  inputs: MergeInputs,
  { columns, frames, gains }: Scene,
  area: GhostArea,
  baseId: string | null,
): Pick<GhostRecord, "proposedId" | "reason"> {
  const numberOf = (k: number) => frameNumber(records, inputs.frames[k].frame.id);
  const sharpness = frames.map((cells, k) => {
    let [sum, whole] = [0, true];
    for (let r = 0; r < area.runs.length; r += 3) {
      for (let x = area.runs[r + 1]; x < area.runs[r + 2]; x++) {
        const i = area.runs[r] * columns + x;
        sum += cells.range[i] / gains[k];
        whole &&= cells.covered[i] > 0;
      }
    }
    return whole ? sum : -1;
  });
  const best = sharpness.indexOf(Math.max(...sharpness));
  if (sharpness[best] < 0) return { proposedId: null, reason: message("place.noneCovers", {}) };
  const base = inputs.frames.findIndex((f) => f.frame.id === baseId);
  if (base >= 0 && sharpness[base] >= 0) return { proposedId: baseId, reason: message("place.focusBase", { number: numberOf(base) }) };
  return {
    proposedId: inputs.frames[best].frame.id,
    reason: message("place.sharpest", { number: numberOf(best) }),
  };
}

function fitnessOf(inputs: MergeInputs, scene: Scene, area: GhostArea, k: number, threshold: number): Fitness {
  const { columns, rows, frames, gains } = scene;
  const cells = columns * rows;
  const own = frames[k];
  const { noise } = inputs;
  const differing = new Float64Array(frames.length);
  const compared = new Float64Array(frames.length);
  let [clipped, covered, count, relative, border, bordering] = [0, 0, 0, 0, 0, 0];
  const bounds = runBounds(area.runs)!;
  const inside = fillCells(area.runs, bounds);
  const on = (x: number, y: number) =>
    x >= bounds.x && y >= bounds.y && x < bounds.x + bounds.width && y < bounds.y + bounds.height && inside[(y - bounds.y) * bounds.width + x - bounds.x];
  for (let r = 0; r < area.runs.length; r += 3) {
    const y = area.runs[r];
    for (let x = area.runs[r + 1]; x < area.runs[r + 2]; x++) {
      const i = y * columns + x;
      count++;
      covered += own.covered[i];
      if (own.top[i] > 0.95) clipped++;
      const light = Math.max(own.mean[cells + i], 1e-4);
      relative += Math.sqrt(noise.shot * light + noise.readSquared) / light;
      if (!on(x - 1, y) || !on(x + 1, y) || !on(x, y - 1) || !on(x, y + 1)) {
        border += own.range[i] / light;
        bordering++;
      }
      // only where somebody differs can it be told who agrees
      if (scene.difference[i] < threshold) continue;
      for (let j = 0; j < frames.length; j++) {
        if (j === k || frames[j].covered[i] === 0 || frames[j].top[i] > 0.95) continue;
        compared[j]++;
        differing[j] += Math.min(CAP, differenceAt(own, frames[j], gains[k], gains[j], noise, i, cells));
      }
    }
  }
  const agreeing = [...differing.keys()].filter((j) => compared[j] >= Math.max(4, 0.03 * count) && differing[j] / compared[j] < 0.35 * threshold);
  return { k, clipped: clipped / count, covered: covered / count, agreeing, noise: relative / count, border: border / Math.max(1, bordering) };
}
