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
import type { Finding } from "../../../document/finding";
import { maskPlane } from "../masks/maskPlane";
import { measureEffect } from "./measureEffect";
import type { PreparedJob } from "../layers/PreparedJob";

const SIDE = 1200;

/** What is wrong with layers and their masks: halos along borders, masks the wrong way round, double sharpening, leaks. */
export async function layerFindings(ctx: EngineContext, job: PreparedJob, task: Task): Promise<Finding[]> {
  const shown = layersOf(job.records).filter((l) => l.visible && l.opacity > 0);
  const found: Finding[] = [];
  for (const [i, layer] of shown.entries()) {
    await task.step(i, shown.length, "Looking along the borders of masks");
    found.push(...(await borderFindings(ctx, job, layer, task)), ...turnedFindings(job.records, layer), ...(await leakFindings(ctx, job.records, layer, task)));
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
  if (layer.mask.parts.length === 0 || layer.mode !== "normal") return [];
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

const elsewhere = (others: number) => (others ? `, and at ${others} more place${others > 1 ? "s" : ""}` : "");

function followEdges(layer: LayerRecord): Finding["remedy"] {
  return layer.mask.refinePx === 0
    ? { kind: "changeMask", layerId: layer.id, change: { refinePx: 12 }, label: "Let the mask follow edges within 12 px" }
    : { kind: "show", label: "Show" };
}

function spillFinding(job: PreparedJob, layer: LayerRecord, level: number, [worst, ...others]: Spill[]): Finding[] {
  if (!worst) return [];
  return [
    {
      ...placeOf(job, level, worst),
      id: `spill-${layer.id}`,
      kind: "spill",
      title: `The mask of "${layer.name}" runs over an edge`,
      sentence: `By ${Math.round(worst.depth * 2 ** level)} px${elsewhere(others.length)}, where elsewhere it keeps to the edges. Conceal what ran over, with a brush that keeps to its side.`,
      weight: 0.6,
      cause: "Compose",
      remedy: followEdges(layer),
      harmless: false,
    },
  ];
}

function haloFinding(job: PreparedJob, layer: LayerRecord, level: number, [worst, ...others]: Halo[]): Finding[] {
  if (!worst) return [];
  return [
    {
      id: `halo-${layer.id}`,
      kind: "halo",
      title: `${worst.excessEv > 0 ? "Bright" : "Dark"} line along the mask of "${layer.name}"`,
      sentence: `${Math.abs(worst.excessEv).toFixed(1)} EV ${worst.excessEv > 0 ? "brighter" : "darker"} than both of its sides${elsewhere(others.length)}. Paint nearer to the edge, or let the mask follow it.`,
      ...placeOf(job, level, worst),
      weight: 0.8 + Math.min(1, Math.abs(worst.excessEv) / 3),
      cause: "Compose",
      remedy: followEdges(layer),
      harmless: false,
    },
  ];
}

const everywhere = { place: null, share: 0, harmless: false, cause: "Compose" } as const;

/** Strokes that cannot do what they were painted for: all reveal, and what they cover is concealed or was revealed before. */
function turnedFindings(records: Records, { id, name, mask }: LayerRecord): Finding[] {
  const strokes = strokesOf(records, id);
  if (mask.parts.length !== 1 || mask.parts[0].kind !== "painted" || strokes.length === 0) return [];
  const sign = strokes.every((s) => s.reveal) ? 1 : strokes.every((s) => !s.reveal) ? 0 : null;
  if (sign === null) return [];
  const idle = sign === mask.ground;
  if (!idle && !(mask.inverted && sign === 1)) return [];
  const sentence = idle
    ? `All ${strokes.length} strokes ${sign ? "reveal" : "conceal"}, on a mask that is ${sign ? "revealed" : "concealed"} already: they do nothing.`
    : `All ${strokes.length} strokes reveal, and the mask is inverted: the layer shows everywhere but there.`;
  const change = idle ? { ground: sign ? (0 as const) : (1 as const) } : { inverted: false };
  const label = idle ? `Begin the mask ${sign ? "concealed" : "revealed"}` : "Turn the mask over";
  return [
    {
      ...everywhere,
      id: `turned-${id}`,
      kind: "turnedMask",
      title: `The mask of "${name}" looks the wrong way round`,
      sentence,
      weight: 0.7,
      remedy: { kind: "changeMask", layerId: id, change, label },
    },
  ];
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
  return [
    {
      ...everywhere,
      id: `leak-${layer.id}`,
      kind: "leak",
      title: `"${layer.name}" reaches beyond "${below.name}"`,
      sentence: `${Math.round(100 * outside)} % of what it changes lies outside the layer below it, by a mean ΔE of ${free.meanDeltaE.toFixed(1)}. Keep it to that layer, or accept it where the whole picture was meant.`,
      weight: 0.3,
      remedy: { kind: "changeLayer", layerId: layer.id, change: { clipped: true }, label: "Only on the layer below" },
    },
  ];
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
  const [first, second] = sharpening.map((l) => `"${l.name}"`);
  return [
    {
      ...everywhere,
      id: `twice-${sharpening.map((l) => l.id).join("-")}`,
      kind: "sharpenedTwice",
      title: "Sharpened twice",
      sentence: `${first} and ${second} both raise fine detail in ${Math.round(100 * share)} % of the picture (sharpening at export comes on top).`,
      weight: 0.4,
      remedy: { kind: "changeLayer", layerId: sharpening[1].id, change: { visible: false }, label: `Hide ${second}` },
    },
  ];
}
