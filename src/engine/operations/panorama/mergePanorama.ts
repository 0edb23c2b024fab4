import { Refusal } from "../../../core/refusal";
import { NOBODY } from "../../../core/merge/frameShares";
import { sizeAtLevel, type Rectangle } from "../../../core/geometry/rectangle";
import { Scope } from "../../../kernels/Kernels";
import type { EngineContext } from "../../EngineContext";
import { bytesHeld } from "../../graph/bytesHeld";
import { contentKey } from "../../graph/keys";
import { portion, type Task } from "../../task";
import { each } from "../frames/frameSamples";
import { writeHalved } from "../frames/levels";
import { storedMerge } from "../merge/storedMerge";
import { accumulate, allocatePyramid, collapse, reduce, type Pyramid } from "../merge/pyramids";
import { writeLabelShares } from "../merge/shares";
import { readThroughGrid } from "./panoramaInputs";
import { placeSeams, type Seams } from "./placeSeams";
import { coverageOfGrid, gridOf, sourceLevelFor, type NodeGrid } from "./projectFrame";
import type { MergeInputs, MergeResult } from "../merge/mergeTypes";
import type { PanoramaParts } from "./PanoramaParts";

const PANORAMA_VERSION = 2;
/** Bands that are blended: the coarsest is about 32 px wide. */
const DEPTH = 5;
/** What a band reaches beyond its own px, of the finest: a strip with so much around it has the same bands as the whole. */
const REACH = 4 * 2 ** DEPTH;
/** Rows at once, a multiple of the coarsest band's px: more of them repeat less of what the bands reach, fewer take less memory. */
const ROWS = 1024;

/**
 * Joins the frames of a panorama along seams, band by band in the square root of light. Strips with what bands reach around them pass
 * by, so that no plane of the whole picture is held. @see Burt, Adelson 1983, "A multiresolution spline with application to image mosaics"
 */
export async function mergePanorama(ctx: EngineContext, inputs: MergeInputs, task: Task): Promise<MergeResult> {
  const { panorama: parts } = inputs;
  if (!parts) throw new Refusal("notPanorama", "panorama.notOne");
  const seams = await findSeamFacts(ctx, inputs, parts, portion(task, 0, 0.15));
  const key = contentKey("panorama", PANORAMA_VERSION, inputs.key);
  const rest = portion(task, 0.15, 1);
  const make = async (result: MergeResult) => {
    const { height } = inputs;
    for (let y0 = 0; y0 < height; y0 += ROWS) {
      const rows = Math.min(ROWS, height - y0);
      await joinStrip(ctx, inputs, parts, seams, y0, rows, result, portion(rest, y0 / height, (y0 + rows) / height));
    }
  };
  return storedMerge(ctx, key, inputs, make, { halved: true });
}

/** The seams of a panorama, kept. */
export function findSeamFacts(ctx: EngineContext, inputs: MergeInputs, parts: PanoramaParts, task: Task): Promise<Seams> {
  return ctx.cache.takeLong(contentKey("seams", PANORAMA_VERSION, inputs.key), () => placeSeams(ctx, inputs, parts, task), bytesHeld);
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
  const scope = new Scope(kernels);
  try {
    const n = width * rows;
    const labelAt = scope.bytes(width * all + 16);
    const label = kernels.u8(labelAt, width * all);
    fillLabels(seams, top, all, width, label);
    const given = frames.flatMap((_, k) => shareOf(parts, k, label, top, all, width));
    const empty = settleBorders(given, label, width);
    const sums = [0, 1, 2].map(() => scope.floats(n + 16));
    for (const at of sums) kernels.f32(at, n).fill(0);
    for (const [i, part] of given.entries()) {
      await task.step(i, given.length, "task.joining");
      joinFrame(ctx, inputs, parts, part, y0, rows, labelAt, sums);
    }
    // what other tasks did in between may have moved the kernels' memory
    const from = (y0 - top) * width;
    const inside = kernels.u8(labelAt + from, n);
    const none = empty.map(([a, b]) => [Math.max(0, a - from), Math.min(n, b - from)]).filter(([a, b]) => a < b);
    dominant.write(0, 0, y0, inside);
    for (const [c, at] of sums.entries()) {
      kernels.run("squareSamples", [at], 0, Math.ceil(n / 4) * 4, 65536);
      const plane = kernels.f32(at, n);
      for (const [a, b] of none) plane.fill(0, a, b);
      writeHalved(kernels, picture, c, y0, rows, at);
    }
    for (const [a, b] of none) inside.fill(NOBODY, a, b);
    writeLabelShares(shares, inside, width, y0, rows);
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
  const size = sizeAtLevel(sources[k].spec.width, sources[k].spec.height, sourceLevel);
  const own = new Uint8Array(rect.width * rect.height);
  coverageOfGrid(grid, size, own);
  return [{ k, rect, grid, size, own }];
}

/**
 * Labels come from a coarse grid: at the very border of a frame they may name it a few px beyond, where another frame has the picture.
 * @returns spans of px that no frame covers
 */
function settleBorders(given: Given[], label: Uint8Array, width: number): [number, number][] {
  const empty: [number, number][] = [];
  const add = (p: number) => {
    const last = empty.at(-1);
    if (last?.[1] === p) last[1]++;
    else empty.push([p, p + 1]);
  };
  for (const { k, rect, own } of given) {
    for (let y = 0; y < rect.height; y++) {
      const line = own.subarray(y * rect.width, (y + 1) * rect.width);
      const out = y * width + rect.x;
      for (let x = line.indexOf(0); x >= 0 && x < rect.width; x++) {
        if (line[x]) {
          // to the next px that is not covered
          x = line.indexOf(0, x);
          if (x < 0) break;
        }
        if (label[out + x] !== k) continue;
        const at = rect.x + x;
        const other = given.find((g) => at >= g.rect.x && at < g.rect.x + g.rect.width && g.own[y * g.rect.width + at - g.rect.x]);
        if (other) label[out + x] = other.k;
        else add(out + x);
      }
    }
  }
  return empty;
}

/** Adds what one frame gives to a strip. */
function joinFrame(
  ctx: EngineContext,
  inputs: MergeInputs,
  parts: PanoramaParts,
  { k, rect, grid, size }: Given,
  y0: number,
  rows: number,
  label: number,
  sums: number[],
): void {
  const { kernels } = ctx;
  const { width } = inputs;
  kernels.withScope((scope) => {
    const weight = allocatePyramid(scope, rect.width, rect.height, DEPTH);
    const band = allocatePyramid(scope, rect.width, rect.height, DEPTH);
    kernels.run("maskRows", [label, width, rect.x, k, weight.at[0], rect.width], 0, rect.height);
    reduce(kernels, weight);
    const planes = readThroughGrid(scope, parts, inputs.frames[k].color, k, grid, size);
    for (const [c, plane] of each(planes).entries()) {
      kernels.run("rootSamples", [plane], 0, planes.length, 65536);
      const channel: Pyramid = {
        at: [plane, ...allocatePyramid(scope, (rect.width + 1) >> 1, (rect.height + 1) >> 1, DEPTH - 1).at],
        width: band.width,
        height: band.height,
      };
      reduce(kernels, channel);
      accumulate(kernels, channel, weight, band, true);
      collapse(kernels, band);
      kernels.run("addRows", [band.at[0], rect.width, y0 - rect.y, sums[c], width, rect.x], 0, rows);
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
function fillLabels({ level, width: gw, height: gh, label }: Seams, y0: number, rows: number, width: number, out: Uint8Array): void {
  const s = 2 ** -level;
  const right = gw > 1 ? 1 : 0;
  // columns of the picture between two columns of the grid
  const first = Array.from({ length: gw + 1 }, (_, i) =>
    i === 0 ? 0 : i >= gw - right ? width : Math.min(width, Math.max(0, Math.ceil((i + 0.5) / s - 0.5))),
  );
  for (let y = 0; y < rows; y++) {
    const g = Math.min(gh - 1, Math.max(0, (y0 + y + 0.5) * s - 0.5));
    const j = Math.min(Math.max(0, gh - 2), Math.floor(g));
    const b = g - j;
    const upper = j * gw;
    const lower = gh > 1 ? upper + gw : upper;
    for (let i = 0; i < Math.max(1, gw - 1); i++) {
      const [from, to] = [first[i], first[i + 1]];
      const four = [label[upper + i], label[upper + i + right], label[lower + i], label[lower + i + right]];
      const [p, q, r, t] = four;
      if (p === q && p === r && p === t) {
        out.fill(p, y * width + from, y * width + to);
        continue;
      }
      for (let x = from; x < to; x++) {
        const a = Math.min(1, Math.max(0, (x + 0.5) * s - 0.5 - i));
        const votes = [(1 - a) * (1 - b), a * (1 - b), (1 - a) * b, a * b];
        let [best, most] = [p, -1];
        for (const who of four) {
          let sum = 0;
          for (let m = 0; m < 4; m++) if (four[m] === who) sum += votes[m];
          if (sum > most) [best, most] = [who, sum];
        }
        out[y * width + x] = best;
      }
    }
  }
}
