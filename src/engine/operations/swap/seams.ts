import { differenceCiede2000, workingToLab } from "../../../core/color/colorDifference";
import { encodeSrgb } from "../../../core/color/srgbCurve";
import { invert, multiply, project, type Matrix3 } from "../../../core/geometry/matrix3";
import { levelOfSide, sizeAtLevel, widen, type Rectangle } from "../../../core/geometry/rectangle";
import { runsOf, runRectangle } from "../../../core/masks/cellRuns";
import { boxMean } from "../../../core/raster/boxMean";
import { quantile } from "../../../core/numeric/statistics";
import { findBorders, type BorderMoves } from "../../../core/weave/findBorders";
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
    const job = await prepareJob(ctx, r, part);
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
function upTo(records: Records, layer: LayerRecord): Records {
  const top = layer.parentId === null ? layer : (layerOf(records, layer.parentId) ?? layer);
  const layers = childrenOf(records, null).filter((l) => !isFinish(l));
  return layers.slice(layers.findIndex((l) => l.id === top.id) + 1).reduce((r, l) => updateLayer(l.id, { visible: false })(r), records);
}

/** Longest side of the grid on which a seam is placed, cells. */
const SIDE = 256;
/** How far a seam may lie from the box that was drawn, as a share of its shorter side; it goes where it likes. Common practice, no source. */
const FREEDOM = 0.2;
const STRAY = 0.0002;
/** No frame has this number. */
const NOBODY = 255;
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
  const moves: BorderMoves = { band: Math.max(2, Math.round(FREEDOM * Math.min(cells.width, cells.height))), stray: STRAY };
  const rect = widen(cells, moves.band + 3, size);
  const { below, above } = await showBoth(ctx, records, layer, level, rect, portion(task, 0.3, 0.9));
  await task.step(0.9, 1, "task.borders");
  const n = rect.width * rect.height;
  const wanted = new Uint8Array(n);
  const isShown = coverageOf(job, layer);
  const encoded = [below, above].map((planes) => planes.map((plane) => plane.map((v) => encodeSrgb(Math.min(1, Math.max(0, v))))));
  for (let i = 0; i < n; i++) {
    const [x, y] = [rect.x + (i % rect.width), rect.y + Math.floor(i / rect.width)];
    wanted[i] = x >= cells.x && x < cells.x + cells.width && y >= cells.y && y < cells.y + cells.height ? 1 : 0;
    if (!isShown((x + 0.5) * cellPx - 0.5, (y + 0.5) * cellPx - 0.5)) for (const plane of encoded[1]) plane[i] = NOWHERE;
  }
  const label = findBorders(wanted, NOBODY, encoded, rect.width, rect.height, moves);
  return { kind: "cells", cellPx, runs: runsOf(label, rect.width, rect.height, rect.x, rect.y) };
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
  /** CIEDE2000 between both along the seam, on the average and at the worst tenth of it */
  deltaE: number;
  worstDeltaE: number;
  /** the worst place, px of the picture */
  worst: { x: number; y: number };
  lengthPx: number;
}

/** Differences are those of small squares, so that noise is none: cells to each side of the middle one. */
const AROUND = 1;

/** What shows along the border of a layer's cells; null where it has none. */
export async function seamFigures(ctx: EngineContext, records: Records, layer: LayerRecord, task: Task): Promise<SeamFigures | null> {
  const part = layer.mask.parts.find((p) => p.kind === "cells");
  if (layer.content.type !== "frame" || part?.kind !== "cells" || part.runs.length === 0) return null;
  const job = await prepareJob(ctx, records, portion(task, 0, 0.3));
  const level = Math.round(Math.log2(part.cellPx));
  const size = sizeAtLevel(job.inputs.width, job.inputs.height, level);
  const { x, y, width, height } = runRectangle(part.runs, 1);
  const rect = widen({ x, y, width, height }, 4 + AROUND, size);
  const { below, above } = await showBoth(ctx, records, layer, level, rect, portion(task, 0.3, 1));
  const mask = maskPlane(ctx, job, layer, level, rect);
  const calm = (planes: Float32Array[]) => planes.map((data) => boxMean({ width: rect.width, height: rect.height, data }, AROUND));
  const [p, q] = [calm(below), calm(above)];
  const found: { i: number; deltaE: number }[] = [];
  for (let i = 0; i < mask.length; i++) {
    const isIn = mask[i] >= 0.5;
    const right = i % rect.width < rect.width - 1 && isIn !== mask[i + 1] >= 0.5;
    const down = i + rect.width < mask.length && isIn !== mask[i + rect.width] >= 0.5;
    if (right || down) found.push({ i, deltaE: differenceCiede2000(labAt(p, i), labAt(q, i)) });
  }
  if (found.length === 0) return null;
  const worst = found.reduce((a, b) => (b.deltaE > a.deltaE ? b : a));
  const [s, sum] = [2 ** level, found.reduce((total, { deltaE }) => total + deltaE, 0)];
  return {
    deltaE: sum / found.length,
    worstDeltaE: quantile(
      Float32Array.from(found, ({ deltaE }) => deltaE),
      0.9,
    ),
    worst: { x: Math.round((rect.x + (worst.i % rect.width) + 0.5) * s), y: Math.round((rect.y + Math.floor(worst.i / rect.width) + 0.5) * s) },
    lengthPx: found.length * s,
  };
}

const labAt = (planes: Float32Array[], i: number) => workingToLab(planes.map((plane) => Math.min(1, Math.max(0, plane[i]))));
