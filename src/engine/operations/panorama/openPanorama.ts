import type { Rectangle } from "../../../core/geometry/rectangle";
import { Scope } from "../../../kernels/Kernels";
import type { EngineContext } from "../../EngineContext";
import { contentKey } from "../../graph/keys";
import { portion, type Task } from "../../task";
import { levelSize } from "../../tiles/RasterStore";
import { each } from "../frameSamples";
import type { MergeInputs, MergeResult } from "../mergeInputs";
import { openMerge } from "../openMerge";
import { accumulate, allocatePyramid, collapse, reduce, type Pyramid } from "../pyramids";
import { writeShares } from "../shares";
import { readThroughGrid, type PanoramaParts } from "./panoramaInputs";
import { placeSeams, type Seams } from "./placeSeams";
import { coverageOfGrid, gridOf, sourceLevelFor, type NodeGrid } from "./projectFrame";

const PANORAMA_VERSION = 1;
/** Bands that are blended: the coarsest is about 32 px wide. */
const DEPTH = 5;
/** What a band reaches beyond its own px, of the finest: a strip with so much around it has the same bands as the whole. */
const REACH = 4 * 2 ** DEPTH;
/** Rows at once, a multiple of the coarsest band's px. */
const ROWS = 512;

/**
 * Joins the frames of a panorama along seams, band by band in the square root of light. Strips with what bands reach around them pass
 * by, so that no plane of the whole picture is held. @see Burt, Adelson 1983, "A multiresolution spline with application to image mosaics"
 */
export async function openPanorama(ctx: EngineContext, inputs: MergeInputs, task: Task): Promise<MergeResult> {
  const { panorama: parts } = inputs;
  if (!parts) throw new RangeError("These frames were not registered as a panorama.");
  const seams = await openSeams(ctx, inputs, parts, portion(task, 0, 0.15));
  const key = await contentKey("panorama", PANORAMA_VERSION, inputs.key);
  const rest = portion(task, 0.15, 1);
  return openMerge(ctx, key, inputs, async (result) => {
    const { height } = inputs;
    for (let y0 = 0; y0 < height; y0 += ROWS) {
      const rows = Math.min(ROWS, height - y0);
      await joinStrip(ctx, inputs, parts, seams, y0, rows, result, portion(rest, y0 / height, (y0 + rows) / height));
    }
  });
}

const known = new WeakMap<EngineContext, { key: string; seams: Seams }>();

/** The seams of a panorama; the last ones are kept. */
export async function openSeams(ctx: EngineContext, inputs: MergeInputs, parts: PanoramaParts, task: Task): Promise<Seams> {
  const key = await contentKey("seams", PANORAMA_VERSION, inputs.key);
  const last = known.get(ctx);
  if (last?.key === key) return last.seams;
  const seams = await placeSeams(ctx, inputs, parts, task);
  known.set(ctx, { key, seams });
  return seams;
}

/** Makes rows y0 to y0 + rows of the picture. */
async function joinStrip(
  ctx: EngineContext,
  inputs: MergeInputs,
  parts: PanoramaParts,
  seams: Seams,
  y0: number,
  rows: number,
  { picture, dominant, shares }: MergeResult,
  task: Task,
): Promise<void> {
  const { kernels } = ctx;
  const { width, height, frames } = inputs;
  const top = Math.max(0, y0 - REACH);
  const all = Math.min(height, y0 + rows + REACH) - top;
  const label = labelsOf(seams, top, all, width);
  const scope = new Scope(kernels);
  try {
    const n = width * rows;
    const sums = [0, 1, 2].map(() => scope.floats(n + 16));
    for (const at of sums) kernels.f32(at, n).fill(0);
    const covered = new Uint8Array(n);
    const given = frames.flatMap((_, k) => shareOf(parts, k, label, top, all, width));
    settleBorders(given, label, width);
    for (const [i, part] of given.entries()) {
      await task.step(i, given.length, "Joining the frames");
      joinFrame(ctx, inputs, parts, part, y0, rows, label, sums, covered);
    }
    const inside = label.subarray((y0 - top) * width, (y0 - top) * width + n);
    dominant.write(0, 0, y0, inside.slice());
    for (const [c, at] of sums.entries()) {
      kernels.run("squareSamples", [at], 0, Math.ceil(n / 4) * 4, 65536);
      const plane = kernels.f32(at, n);
      for (let i = 0; i < n; i++) if (!covered[i]) plane[i] = 0;
      picture.write(0, c, y0, plane);
    }
    const gives = scope.floats(n + 16);
    for (const k of frames.keys()) {
      const plane = kernels.f32(gives, n);
      for (let i = 0; i < n; i++) plane[i] = covered[i] && inside[i] === k ? 1 : 0;
      writeShares(ctx, shares, k, gives, width, y0, rows);
    }
  } finally {
    scope.release();
  }
}

/** A frame in the part of a strip that its bands reach. */
interface Given {
  k: number;
  rect: Rectangle;
  grid: NodeGrid;
  size: { width: number; height: number };
  /** 1 where the frame covers a px of the rectangle */
  own: Uint8Array;
}

function shareOf({ sources, projected }: PanoramaParts, k: number, label: Uint8Array, top: number, rows: number, width: number): Given[] {
  const columns = columnsOf(label, k, width, rows);
  if (!columns) return [];
  const rect = { x: columns[0], y: top, width: columns[1] - columns[0], height: rows };
  const sourceLevel = sourceLevelFor(projected[k], sources[k].spec, 0);
  const grid = gridOf(projected[k], 0, rect, sourceLevel);
  const size = levelSize(sources[k].spec, sourceLevel);
  const own = new Uint8Array(rect.width * rect.height);
  coverageOfGrid(grid, size, own);
  return [{ k, rect, grid, size, own }];
}

/** Labels come from a coarse grid: at the very border of a frame they may name it a few px beyond, where another frame has the picture. */
function settleBorders(given: Given[], label: Uint8Array, width: number): void {
  for (const { k, rect, own } of given) {
    for (let y = 0, p = 0; y < rect.height; y++) {
      for (let x = rect.x; x < rect.x + rect.width; x++, p++) {
        if (own[p] || label[y * width + x] !== k) continue;
        const other = given.find((g) => x >= g.rect.x && x < g.rect.x + g.rect.width && g.own[y * g.rect.width + x - g.rect.x]);
        if (other) label[y * width + x] = other.k;
      }
    }
  }
}

/** Adds what one frame gives to a strip. */
function joinFrame(
  ctx: EngineContext,
  inputs: MergeInputs,
  parts: PanoramaParts,
  { k, rect, grid, size, own }: Given,
  y0: number,
  rows: number,
  label: Uint8Array,
  sums: number[],
  covered: Uint8Array,
): void {
  const { kernels } = ctx;
  const { width } = inputs;
  kernels.withScope((scope) => {
    const weight = allocatePyramid(scope, rect.width, rect.height, DEPTH);
    const band = allocatePyramid(scope, rect.width, rect.height, DEPTH);
    const mask = kernels.f32(weight.at[0], rect.width * rect.height);
    for (let y = 0, p = 0; y < rect.height; y++) for (let x = 0; x < rect.width; x++, p++) mask[p] = label[y * width + rect.x + x] === k ? 1 : 0;
    reduce(kernels, weight);
    const planes = readThroughGrid(scope, parts, inputs.frames[k].color, k, grid, size);
    const from = y0 - rect.y;
    for (let y = 0; y < rows; y++) {
      const line = (from + y) * rect.width;
      const out = y * width + rect.x;
      for (let x = 0; x < rect.width; x++) if (own[line + x] && mask[line + x]) covered[out + x] = 1;
    }
    for (const [c, plane] of each(planes).entries()) {
      kernels.run("rootSamples", [plane], 0, planes.length, 65536);
      const channel: Pyramid = {
        at: [plane, ...allocatePyramid(scope, (rect.width + 1) >> 1, (rect.height + 1) >> 1, DEPTH - 1).at],
        width: band.width,
        height: band.height,
      };
      for (const [l, at] of band.at.entries()) kernels.f32(at, band.width[l] * band.height[l]).fill(0);
      reduce(kernels, channel);
      accumulate(kernels, channel, weight, band);
      collapse(kernels, band);
      const joined = kernels.f32(band.at[0], rect.width * rect.height);
      const sum = kernels.f32(sums[c], width * rows);
      for (let y = 0; y < rows; y++) {
        const line = (from + y) * rect.width;
        const out = y * width + rect.x;
        for (let x = 0; x < rect.width; x++) sum[out + x] += joined[line + x];
      }
    }
  });
}

/** The columns of a strip that a frame's bands reach, on the grid of the coarsest band; null where it gives nothing. */
function columnsOf(label: Uint8Array, k: number, width: number, rows: number): [number, number] | null {
  let [from, to] = [width, -1];
  for (let y = 0; y < rows; y += 2) {
    const line = label.subarray(y * width, (y + 1) * width);
    const first = line.indexOf(k);
    if (first < 0) continue;
    from = Math.min(from, first);
    to = Math.max(to, line.lastIndexOf(k));
  }
  if (to < 0) return null;
  const unit = 2 ** DEPTH;
  return [Math.max(0, Math.floor((from - REACH) / unit) * unit), Math.min(width, Math.ceil((to + 1 + REACH) / unit) * unit)];
}

/** Labels of rows of the picture from the grid that seams were found on, their borders made smooth. */
function labelsOf({ level, width: gw, height: gh, label }: Seams, y0: number, rows: number, width: number): Uint8Array {
  const out = new Uint8Array(width * rows);
  const s = 2 ** -level;
  const column = new Int32Array(width);
  const share = new Float32Array(width);
  for (let x = 0; x < width; x++) {
    const g = Math.min(gw - 1, Math.max(0, (x + 0.5) * s - 0.5));
    column[x] = Math.min(gw - 2 < 0 ? 0 : gw - 2, Math.floor(g));
    share[x] = g - column[x];
  }
  const right = gw > 1 ? 1 : 0;
  for (let y = 0; y < rows; y++) {
    const g = Math.min(gh - 1, Math.max(0, (y0 + y + 0.5) * s - 0.5));
    const j = Math.min(Math.max(0, gh - 2), Math.floor(g));
    const b = g - j;
    const upper = j * gw;
    const lower = gh > 1 ? upper + gw : upper;
    for (let x = 0; x < width; x++) {
      const i = column[x];
      const [p, q, r, t] = [label[upper + i], label[upper + i + right], label[lower + i], label[lower + i + right]];
      if (p === q && p === r && p === t) {
        out[y * width + x] = p;
        continue;
      }
      const a = share[x];
      const votes = [(1 - a) * (1 - b), a * (1 - b), (1 - a) * b, a * b];
      const four = [p, q, r, t];
      let [best, most] = [p, -1];
      for (const who of four) {
        let sum = 0;
        for (let m = 0; m < 4; m++) if (four[m] === who) sum += votes[m];
        if (sum > most) [best, most] = [who, sum];
      }
      out[y * width + x] = best;
    }
  }
  return out;
}
