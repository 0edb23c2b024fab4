import { differenceCiede2000, workingToLab } from "../../../core/color/colorDifference";
import { encodeSrgb } from "../../../core/color/srgbCurve";
import { invert, multiply, project, type Matrix3 } from "../../../core/geometry/matrix3";
import { levelOfSide, sizeAtLevel, widen, type Rectangle } from "../../../core/geometry/rectangle";
import { runsOf, runRectangle } from "../../../core/masks/cellRuns";
import { boxMean } from "../../../core/raster/boxMean";
import { quantile } from "../../../core/numeric/statistics";
import { cutBetween, SURE } from "../../../core/weave/findBorders";
import { LIKELY, partCore, SOLID } from "../../../core/weave/partCore";
import { updateLayer } from "../../../document/layerEdits";
import { freshMask, type LayerRecord } from "../../../document/records/layerTypes";
import type { Records } from "../../../document/records/types";
import { childrenOf, isFinish, layerOf, registrationOf } from "../../../document/selectors";
import type { Cells } from "../../../kinds/maskParts/cells/record";
import type { EngineContext } from "../../EngineContext";
import { portion, type Task } from "../../task";
import { each } from "../frames/frameSamples";
import { composeRect, prepareJob } from "../layers/compose";
import { shownBy, toOwnPlace } from "../layers/frameLayers";
import type { PreparedJob } from "../layers/PreparedJob";
import { maskPlane } from "../masks/maskPlane";
import { readyCutouts } from "../matte/cutouts";

/** What a layer and what lies below it show in a rectangle of a level: working light, red, green and blue. */
interface Both {
  below: Float32Array[];
  above: Float32Array[];
}

/** Compares what a layer shows everywhere with what lies below it, without anything that lies above. */
async function showBoth(ctx: EngineContext, records: Records, layer: LayerRecord, level: number, rect: Rectangle, task: Task): Promise<Both> {
  const shown = upTo(records, layer);
  const whole = updateLayer(layer.id, { mask: freshMask(1), opacity: 1, visible: true, seamPx: 0 })(shown);
  const planes = async (r: Records, part: Task) => {
    const job = await prepareJob(ctx, r, portion(part, 0, 0.5));
    await readyCutouts(job, level, portion(part, 0.5, 1));
    return ctx.kernels.withScope((scope) =>
      each(composeRect(ctx, job, level, rect, "layers", scope)).map((at) => ctx.kernels.f32(at, rect.width * rect.height).slice()),
    );
  };
  return {
    below: await planes(updateLayer(layer.id, { visible: false })(shown), portion(task, 0, 0.5)),
    above: await planes(whole, portion(task, 0.5, 1)),
  };
}

/** The job as if a layer lay on top of all others. */
export function upTo(records: Records, layer: LayerRecord): Records {
  const top = layer.parentId === null ? layer : (layerOf(records, layer.parentId) ?? layer);
  const layers = childrenOf(records, null).filter((l) => !isFinish(l));
  return layers.slice(layers.findIndex((l) => l.id === top.id) + 1).reduce((r, l) => updateLayer(l.id, { visible: false })(r), records);
}

/** Longest side of the grid on which a seam is placed, cells. */
const SIDE = 256;
/** How far beyond the box a seam may lie, and how much of the box is taken where both show the same, as shares of its shorter side. Common practice, no source. */
const [BEYOND, CORE] = [0.15, 0.3];
/** What leaving a sample behind that probably belongs to a part costs, against what borders cost. Common practice, no source. */
const PROBABLY = 0.03;
/** A colour that nothing shows: no seam goes where a frame ends. */
const NOWHERE = 4;

/**
 * Where a part that is taken from another frame is joined: around its box, where both show least difference.
 * @param box px of the picture
 */
export async function placeSeam(ctx: EngineContext, records: Records, layer: LayerRecord, box: Rectangle, task: Task): Promise<Cells> {
  const job = await prepareJob(ctx, records, portion(task, 0, 0.3));
  const { width, height } = job.inputs;
  const level = levelOfSide(box, SIDE);
  const cellPx = 2 ** level;
  const size = sizeAtLevel(width, height, level);
  const cells = {
    x: Math.round(box.x / cellPx),
    y: Math.round(box.y / cellPx),
    width: Math.max(3, Math.round(box.width / cellPx)),
    height: Math.max(3, Math.round(box.height / cellPx)),
  };
  const shorter = Math.min(cells.width, cells.height);
  const reach = Math.max(2, Math.round(BEYOND * shorter));
  const rect = widen(cells, 2 * reach + 2, size);
  const { below, above } = await showBoth(ctx, records, layer, level, rect, portion(task, 0.3, 0.9));
  await task.step(0.9, 1, "task.borders");
  const { width: columns, height: rows } = rect;
  const isShown = coverageOf(job, layer);
  const [p, q] = [below, above].map((planes) => planes.map((plane) => plane.map((v) => encodeSrgb(Math.min(1, Math.max(0, v))))));
  const box0 = { ...cells, x: cells.x - rect.x, y: cells.y - rect.y };
  const core = partCore(p, q, box0, columns, rows);
  // where both show the same, the middle of the box is what is asked for
  const middle = core.includes(SOLID) ? null : widen(box0, -Math.round((0.5 - CORE / 2) * shorter), { width: columns, height: rows });
  const outer = widen(box0, reach, { width: columns, height: rows });
  const isIn = ({ x, y, width: w, height: h }: Rectangle, u: number, v: number) => u >= x && v >= y && u < x + w && v < y + h;
  const wants = Float32Array.from(core, (on, i) => {
    const [u, v] = [i % columns, Math.floor(i / columns)];
    if (on === SOLID || (middle && isIn(middle, u, v))) return SURE;
    return on === LIKELY ? PROBABLY : isIn(outer, u, v) ? 0 : -SURE;
  });
  for (let i = 0; i < wants.length; i++) {
    const [x, y] = [rect.x + (i % columns), rect.y + Math.floor(i / columns)];
    if (!isShown((x + 0.5) * cellPx - 0.5, (y + 0.5) * cellPx - 0.5)) for (const plane of q) plane[i] = NOWHERE;
  }
  const label = cutBetween(
    wants,
    q,
    () => p,
    () => true,
    columns,
    rows,
  );
  return { kind: "cells", cellPx, runs: runsOf(label, columns, rows, rect.x, rect.y) };
}

/** Whether a layer's frame shows anything at a place of the picture. */
function coverageOf(job: PreparedJob, layer: LayerRecord): (x: number, y: number) => boolean {
  if (layer.content.type !== "frame") return () => true;
  const { input, shown, moved } = shownBy(job, layer.content);
  if (!shown) return () => true;
  const { width, height } = job.inputs;
  const toShown: Matrix3 | null = moved && toOwnPlace(moved, { width, height }, shown);
  const placed = input && registrationOf(job.records)?.placements.find((p) => p.frameId === input.frame.id)?.matrix;
  const toFrame = placed ? multiply(invert(placed), toShown ?? [1, 0, 0, 0, 1, 0, 0, 0, 1]) : toShown;
  const size = input ? input.frame : shown.file.spec;
  if (!toFrame) return () => true;
  return (x, y) => {
    const [u, v] = project(toFrame, x, y);
    return u >= -0.5 && v >= -0.5 && u <= size.width - 0.5 && v <= size.height - 0.5;
  };
}

/** How a part from another frame is joined with what lies below it. */
export interface SeamFigures {
  /** by how much more the picture changes across the seam than either frame does there, CIEDE2000: on the average, and in the worst tenth of it */
  deltaE: number;
  worstDeltaE: number;
  /** the worst place, px of the picture */
  worst: { x: number; y: number };
  lengthPx: number;
}

/** How far on each side of a seam it is looked, cells, and over how many along it. Common practice, no source. */
const [ACROSS, ALONG] = [3, 2];

/** What shows along the border of a layer's cells; null where it has none. */
export async function seamFigures(ctx: EngineContext, records: Records, layer: LayerRecord, task: Task): Promise<SeamFigures | null> {
  const part = layer.mask.parts.find((p) => p.kind === "cells");
  if (layer.content.type !== "frame" || part?.kind !== "cells" || part.runs.length === 0) return null;
  const job = await prepareJob(ctx, upTo(records, layer), portion(task, 0, 0.3));
  const level = Math.round(Math.log2(part.cellPx));
  const size = sizeAtLevel(job.inputs.width, job.inputs.height, level);
  const rect = widen(runRectangle(part.runs, 1), 2 * ACROSS, size);
  const { below, above } = await showBoth(ctx, records, layer, level, rect, portion(task, 0.3, 1));
  await readyCutouts(job, level, task);
  const mask = maskPlane(ctx, job, layer, level, rect);
  const joined = ctx.kernels.withScope((scope) =>
    each(composeRect(ctx, job, level, rect, "layers", scope)).map((at) => ctx.kernels.f32(at, rect.width * rect.height).slice()),
  );
  const lab = (planes: Float32Array[], i: number) => workingToLab(planes.map((p) => Math.min(1, Math.max(0, p[i]))));
  // how much each changes across the seam, by the place where it was crossed
  const changes = [joined, below, above].map(() => new Float32Array(mask.length));
  const counts = new Float32Array(mask.length);
  const look = (i: number, step: number, place: number, length: number) => {
    if (place < ACROSS || place + ACROSS + 1 >= length || mask[i] >= 0.5 === mask[i + step] >= 0.5) return;
    [joined, below, above].forEach((planes, k) => (changes[k][i] += differenceCiede2000(lab(planes, i - ACROSS * step), lab(planes, i + (ACROSS + 1) * step))));
    counts[i]++;
  };
  for (let i = 0; i < mask.length; i++) {
    look(i, 1, i % rect.width, rect.width);
    look(i, rect.width, Math.floor(i / rect.width), rect.height);
  }
  return summed(changes, counts, rect, part.cellPx);
}

/** Figures of what was found along a seam, grain evened out along it. @param changes of the picture, of what lies below and of what is taken */
function summed(changes: Float32Array[], counts: Float32Array, { x, y, width, height }: Rectangle, cellPx: number): SeamFigures | null {
  const [joined, below, above, near] = [...changes, counts].map((data) => boxMean({ width, height, data }, ALONG));
  const places = Array.from(counts.keys()).filter((i) => counts[i] > 0);
  if (places.length === 0) return null;
  // an edge that one of both has there is no seam
  const local = places.map((i) => Math.max(0, joined[i] - Math.max(below[i], above[i])) / near[i]);
  const worst = places[local.reduce((best, v, k) => (v > local[best] ? k : best), 0)];
  return {
    deltaE: local.reduce((sum, v) => sum + v, 0) / local.length,
    worstDeltaE: quantile(Float32Array.from(local), 0.9),
    worst: { x: Math.round((x + (worst % width) + 0.5) * cellPx), y: Math.round((y + Math.floor(worst / width) + 0.5) * cellPx) },
    lengthPx: places.length * cellPx,
  };
}
