import { invert, project } from "../../../core/geometry/matrix3";
import { levelOfSide, sizeAtLevel, type Rectangle } from "../../../core/geometry/rectangle";
import { findHalos, type Halo } from "../../../core/masks/findHalos";
import { findSpill, type Spill } from "../../../core/masks/findSpill";
import { updateLayer } from "../../../document/layerEdits";
import { freshMask, type LayerRecord } from "../../../document/records/layerTypes";
import type { Records } from "../../../document/records/types";
import { outputGeometry, outputToReference } from "../../../document/outputGeometry";
import { layersOf, leaksBeyond, strokesOf } from "../../../document/selectors";
import type { EngineContext } from "../../EngineContext";
import type { Task } from "../../task";
import { twinFindings } from "../retouch/cleaning";
import { prepareJob } from "../layers/compose";
import { composedLight } from "../layers/composedLight";
import { finding, type Finding, type Remedy } from "../../../document/finding";
import { maskPlane } from "../masks/maskPlane";
import { measureEffect } from "./measureEffect";
import type { PreparedJob } from "../layers/PreparedJob";

const SIDE = 1200;

/** What is wrong with layers and their masks: halos along borders, masks the wrong way round, double sharpening, leaks. */
export async function layerFindings(ctx: EngineContext, job: PreparedJob, task: Task): Promise<Finding[]> {
  const shown = layersOf(job.records).filter((l) => l.visible && l.opacity > 0);
  const found: Finding[] = [];
  for (const [i, layer] of shown.entries()) {
    await task.step(i, shown.length, "task.maskBorders");
    found.push(...(await borderFindings(ctx, job, layer, task)), ...reversedMasks(job.records, layer), ...(await leakFindings(ctx, job.records, layer, task)));
  }
  return [...found, ...sharpenedTwice(ctx, job, shown), ...(await twinFindings(ctx, job, task))];
}

/** Level and rectangle of the whole picture at about SIDE px. */
function overview({ inputs }: PreparedJob): { level: number; rect: Rectangle } {
  const level = levelOfSide(inputs, SIDE);
  return { level, rect: { x: 0, y: 0, ...sizeAtLevel(inputs.width, inputs.height, level) } };
}

const logLight = async (ctx: EngineContext, records: Records, level: number, rect: Rectangle, task: Task): Promise<Float32Array> =>
  composedLight(ctx, await prepareJob(ctx, records, task), level, rect, task);

/** Halos and spills along the border of a layer's mask. */
async function borderFindings(ctx: EngineContext, job: PreparedJob, layer: LayerRecord, task: Task): Promise<Finding[]> {
  const { parts } = layer.mask;
  if (parts.length === 0 || layer.mode !== "normal") return [];
  // the border of a shadow is what it was cast for, and blades and walls are the plate's own
  if (parts.some((p) => p.kind === "cast") || parts.every((p) => p.kind === "sunk" || p.kind === "behind")) return [];
  const { level, rect } = overview(job);
  const mask = maskPlane(ctx, job, layer, level, rect);
  if (!mask.some((v) => v > 0.1 && v < 0.9)) return [];
  const { records } = job;
  const [joined, below, above] = [
    await logLight(ctx, records, level, rect, task),
    await logLight(ctx, updateLayer(layer.id, { visible: false })(records), level, rect, task),
    await logLight(ctx, updateLayer(layer.id, { mask: freshMask(1) })(records), level, rect, task),
  ];
  const field = { width: rect.width, height: rect.height, mask };
  const change = above.map((v, i) => v - below[i]);
  return [
    ...haloFinding(job, layer, level, findHalos({ ...field, joined, below, above })),
    ...spillFinding(job, layer, level, findSpill({ ...field, light: below, change })),
  ];
}

/** Where something along a border lies in the output, with the share of it that a line of samples is. */
function placeOf({ records, inputs }: PreparedJob, level: number, at: { x: number; y: number; count: number }): Pick<Finding, "place" | "share"> {
  const { crop } = outputGeometry(records);
  const scale = 2 ** level;
  const [x, y] = project(invert(outputToReference(outputGeometry(records), inputs)), at.x * scale, at.y * scale);
  const side = 24 * scale;
  return {
    place: { x: Math.round(x - side), y: Math.round(y - side), width: 2 * side, height: 2 * side },
    share: (at.count * scale) / (crop.width * crop.height),
  };
}

const followEdges = ({ id, mask }: LayerRecord): Remedy =>
  mask.refinePx === 0 ? { kind: "changeMask", layerId: id, change: { refinePx: 12 } } : { kind: "show" };

function spillFinding(job: PreparedJob, layer: LayerRecord, level: number, [worst, ...others]: Spill[]): Finding[] {
  if (!worst) return [];
  const values = { layer: layer.name, px: Math.round(worst.depth * 2 ** level), others: others.length };
  const of = { id: `spill-${layer.id}`, weight: 0.6, cause: "compose" as const, remedy: followEdges(layer) };
  return [finding("spill", values, { ...placeOf(job, level, worst), ...of })];
}

function haloFinding(job: PreparedJob, layer: LayerRecord, level: number, [worst, ...others]: Halo[]): Finding[] {
  if (!worst) return [];
  const ev = Math.abs(worst.excessEv);
  const values = { layer: layer.name, ev, brighter: worst.excessEv > 0 ? "yes" : "no", others: others.length };
  const of = { id: `halo-${layer.id}`, weight: 0.8 + Math.min(1, ev / 3), cause: "compose" as const, remedy: followEdges(layer) };
  return [finding("halo", values, { ...placeOf(job, level, worst), ...of })];
}

const everywhere = { place: null, share: 0, cause: "compose" } as const;

/** Strokes that cannot do what they were painted for: all reveal, and what they cover is concealed or was revealed before. */
function reversedMasks(records: Records, { id, name, mask }: LayerRecord): Finding[] {
  const strokes = strokesOf(records, id);
  if (mask.parts.length !== 1 || mask.parts[0].kind !== "painted" || strokes.length === 0) return [];
  const sign = strokes.every((s) => s.reveal) ? 1 : strokes.every((s) => !s.reveal) ? 0 : null;
  if (sign === null) return [];
  const idle = sign === mask.base;
  if (!idle && !(mask.inverted && sign === 1)) return [];
  const how = !idle ? "inverted" : sign ? "revealedAlready" : "concealedAlready";
  const change = idle ? { base: sign ? (0 as const) : (1 as const) } : { inverted: false };
  const remedy = { kind: "changeMask" as const, layerId: id, change };
  return [finding("turnedMask", { layer: name, strokes: strokes.length, how }, { ...everywhere, id: `turned-${id}`, weight: 0.7, remedy })];
}

/** Mean ΔE beyond which a leak can be seen. Common practice, no source. */
const LEAK_DELTA_E = 2;
const LEAK_SHARE = 0.3;

/** An adjustment without a mask, right above a layer that shows in places only: how much of what it changes lies outside of that. */
async function leakFindings(ctx: EngineContext, records: Records, layer: LayerRecord, task: Task): Promise<Finding[]> {
  const below = leaksBeyond(records, layer);
  if (!below) return [];
  const free = await measureEffect(ctx, updateLayer(layer.id, { visible: false })(records), records, task);
  const clipped = await measureEffect(ctx, updateLayer(layer.id, { visible: false })(records), updateLayer(layer.id, { clipped: true })(records), task);
  if (!free || !clipped || free.share === 0 || clipped.share === 0) return [];
  const outside = 1 - clipped.share / free.share;
  if (outside < LEAK_SHARE || free.meanDeltaE < LEAK_DELTA_E) return [];
  const remedy = { kind: "changeLayer" as const, layerId: layer.id, name: layer.name, change: { clipped: true } };
  const values = { layer: layer.name, below: below.name, share: outside, deltaE: free.meanDeltaE };
  return [finding("leak", values, { ...everywhere, id: `leak-${layer.id}`, weight: 0.3, remedy })];
}

/** Share of the picture in which two layers sharpen. */
const TWICE_SHARE = 0.02;

/** Fine detail raised by more than one layer at the same places. */
function sharpenedTwice(ctx: EngineContext, job: PreparedJob, layers: LayerRecord[]): Finding[] {
  const sharpening = layers.filter(({ content }) => {
    if (content.type !== "adjustment") return false;
    const { adjustment, values } = content;
    return (adjustment === "sharpen" && (values.amount ?? 0) > 0.1) || (adjustment === "detail" && (values.fine ?? 0) > 0.1);
  });
  if (sharpening.length < 2) return [];
  const { level, rect } = overview(job);
  const masks = sharpening.map((l) => maskPlane(ctx, job, l, level, rect).map((v) => v * l.opacity));
  const share = masks[0].reduce((n, _, i) => (masks.filter((m) => m[i] > 0.3).length > 1 ? n + 1 : n), 0) / masks[0].length;
  if (share < TWICE_SHARE) return [];
  const [first, second] = sharpening;
  const remedy = { kind: "changeLayer" as const, layerId: second.id, name: second.name, change: { visible: false } };
  const id = `twice-${sharpening.map((l) => l.id).join("-")}`;
  return [finding("sharpenedTwice", { first: first.name, second: second.name, share }, { ...everywhere, id, weight: 0.4, remedy })];
}
