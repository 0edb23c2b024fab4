import { isRepeat, type MergeMethod } from "../../../core/merge/mergeMethods";
import { intersect, sizeAtLevel, widen, type Rectangle } from "../../../core/geometry/rectangle";
import { copyShared, cutInto } from "../../../core/raster/planeParts";
import { LOWEST_OCTAVE, OCTAVES, toneResponse, toneTable, type ToneValues } from "../../../core/color/toneCurve";
import { whiteBalanceMatrix } from "../../../core/color/whiteBalance";
import { exp2 } from "../../../core/numeric/elementary";
import { stackReach } from "./layerReach";
import { FRESH_MERGE } from "../../../document/mergeEdits";
import type { LayerRecord } from "../../../document/records/layerTypes";
import type { Records } from "../../../document/records/types";
import { adjustmentValues, childrenOf, frameOfLayer, ghostsOf, layersOf, mergeOf, responseInForce } from "../../../document/selectors";
import type { Scope } from "../../../kernels/Kernels";
import type { EngineContext } from "../../EngineContext";
import { bytesHeld } from "../../graph/bytesHeld";
import type { DerivedCache } from "../../graph/DerivedCache";
import { seldom, type Task } from "../../task";
import { allocatePlanes, each, WORKING_TO_REC709, type Planes } from "../frames/frameSamples";
import { mergeMethod, openMergeInputs, withResponse } from "../merge/mergeInputs";
import { openFocus } from "../merge/mergeFocus";
import { openGround } from "../merge/mergeGround";
import { openPanorama } from "../panorama/openPanorama";
import { openRepeats } from "../merge/mergeRepeats";
import { openFusion } from "../merge/mergeFusion";
import { openRadiance } from "../merge/mergeRadiance";
import { applyLocalTone, prepareLocalTone } from "../finish/localTone";
import { atCoarse, coarseLevel, raised } from "../merge/coarseMerge";
import { findAreas } from "../masks/foundMask";
import { planFills } from "../retouch/retouch";
import { layStack } from "./layStack";
import type { FillPlan, PreparedJob } from "./PreparedJob";
import { layerKey, stackKey } from "./stackKeys";
import { readMerge, type ShownFrame } from "../merge/readLayer";
import { seatDonors } from "../merge/seatDonors";
import { colorOf, openFrame } from "../frames/sources";
import { developedColor } from "../frames/develop";
import type { MergeInputs, MergeResult } from "../merge/mergeTypes";

const NO_FILLS: ReadonlyMap<string, FillPlan> = new Map();

/** How far down the order of operations a picture is taken. */
export type ComposeUpTo = "merge" | "layers" | "finish";

/** Opens or makes all that a job's picture derives from. */
export async function prepareJob(ctx: EngineContext, records: Records, task: Task, method = mergeMethod(records)): Promise<PreparedJob> {
  const opened = await openMergeInputs(ctx, records, task);
  const inputs = method === "radiance" ? withResponse(ctx.cache, opened, responseInForce(records)) : opened;
  const merged = await openMethod(ctx, records, inputs, method, task);
  // a ground stays at its own exposure, all else is at the reference's
  const exposureEv = method === "ground" ? inputs.frames[groundOf(records, inputs)].relativeEv : 0;
  const job: PreparedJob = {
    records,
    inputs,
    merge: await seatDonors(ctx, inputs, merged, method, ghostsOf(records), task, exposureEv),
    method,
    pictures: await openPictures(ctx, records, inputs),
    fills: NO_FILLS,
    settled: 0,
    local: null,
    finest: 0,
  };
  await findAreas(ctx, job, task);
  const filled = { ...job, fills: await planFills(ctx, job, task) };
  const layersAt = (level: number, rect: Rectangle, scope: Scope) => composeRect(ctx, filled, level, rect, "layers", scope);
  return { ...filled, local: prepareLocalTone(ctx, filled, stackKey(filled, null), layersAt) };
}

/** Opens what layers show besides the frames merged, at its own size and as it was developed. */
async function openPictures(ctx: EngineContext, records: Records, inputs: MergeInputs): Promise<Map<string, ShownFrame>> {
  const pictures = new Map<string, ShownFrame>();
  for (const id of layersOf(records).map(frameOfLayer)) {
    const frame = id && !pictures.has(id) && !inputs.frames.some((f) => f.frame.id === id) ? records[id] : undefined;
    if (frame?.kind !== "frame") continue;
    const file = await openFrame(ctx, frame);
    pictures.set(frame.id, { file, color: developedColor(ctx.cache, await colorOf(ctx, frame.sourceId), frame.development) });
  }
  return pictures;
}

/** The exact merge goes on beside a coarse one, and must not slow it to its own pace. */
const COARSE_PAUSE_MS = 250;

/** The same with a merge made at a coarse display level, without what moved and without the local tone response: for a first look. */
export async function prepareCoarse(ctx: EngineContext, records: Records, task: Task, method: MergeMethod): Promise<PreparedJob> {
  const hurried = seldom(task, COARSE_PAUSE_MS);
  const inputs = await openMergeInputs(ctx, records, hurried);
  const finest = coarseLevel(inputs);
  const merged = await openMethod(ctx, records, atCoarse(inputs, finest), method, hurried);
  const merge = { ...merged, picture: raised(merged.picture, finest, inputs), dominant: raised(merged.dominant, finest, inputs) };
  return { records, inputs, merge, method, pictures: await openPictures(ctx, records, inputs), fills: NO_FILLS, settled: 0, local: null, finest };
}

/** The frame that a ground merge lies on: the base chosen, else the reference. */
function groundOf(records: Records, inputs: MergeInputs): number {
  const chosen = inputs.frames.findIndex((f) => f.frame.id === mergeOf(records)?.baseId);
  return chosen >= 0 ? chosen : inputs.reference;
}

function openMethod(ctx: EngineContext, records: Records, inputs: MergeInputs, method: MergeMethod, task: Task): Promise<MergeResult> {
  const m = mergeOf(records);
  if (method === "radiance") return openRadiance(ctx, inputs, m?.fringe.removed ?? false, task);
  if (method === "panorama") return openPanorama(ctx, inputs, task);
  if (method === "focus") return openFocus(ctx, inputs, task);
  if (method === "ground") return openGround(ctx, inputs, groundOf(records, inputs), task);
  if (isRepeat(method)) return openRepeats(ctx, inputs, method, task);
  const { contrast, saturation, exposedness } = m ?? FRESH_MERGE;
  return openFusion(ctx, inputs, { contrast, saturation, exposedness }, task);
}

/** Working planes of a rectangle (inside the level) in reference coordinates. */
export function composeRect(ctx: EngineContext, job: PreparedJob, level: number, rect: Rectangle, upTo: ComposeUpTo, scope: Scope): Planes {
  const planes = upTo === "merge" ? readMerge(scope, job.merge, level, rect) : layersRect(ctx, job, level, rect, scope);
  if (upTo !== "finish") return planes;
  if (job.local) applyLocalTone(job.records, job.local, level, rect, planes, scope);
  finish(ctx, job, planes, scope);
  return planes;
}

/** The merge with its layers. Where some layer looks around itself, a larger rectangle is laid and the one asked for cut out. */
function layersRect(ctx: EngineContext, job: PreparedJob, level: number, rect: Rectangle, scope: Scope): Planes {
  const layers = childrenOf(job.records, null);
  const lower = Math.min(job.settled, layers.length);
  const lay = (where: Rectangle, from: number, to: number, inner: Scope): Planes => {
    const { width, height } = job.inputs;
    const wide = widen(where, stackReach(job.records, level, layers.slice(from, to)), sizeAtLevel(width, height, level));
    const planes =
      from > 0
        ? settledRect(ctx, job, layers.slice(0, from), level, wide, inner, (tile, s) => lay(tile, 0, from, s))
        : readMerge(inner, job.merge, level, wide);
    layStack(ctx, job, { level, rect: wide, width, height }, planes, from, to);
    return cutPlanes(planes, wide, where, inner);
  };
  return lay(rect, lower, layers.length, scope);
}

/** How many of the lowest layers stayed as they were since this was last asked: those are kept together. A layer goes with those that are clipped to it. */
export function settledLayers(ctx: EngineContext, job: PreparedJob): number {
  const layers = childrenOf(job.records, null);
  let count = ctx.stable.count([`${job.merge.key}/${job.finest}`, ...layers.map((l) => layerKey(job, l))]);
  while (count > 0 && layers[count]?.clipped) count--;
  return count;
}

/** Side of a tile of what the lowest layers make, samples. */
const SETTLED_TILE = 256;

/** What the lowest layers make of the merge, put together from tiles. @param lay makes one, which lies inside the level */
function settledRect(
  ctx: EngineContext,
  job: PreparedJob,
  layers: LayerRecord[],
  level: number,
  rect: Rectangle,
  scope: Scope,
  lay: (tile: Rectangle, scope: Scope) => Planes,
): Planes {
  const views = (planes: Planes, { width, height }: Rectangle) => each(planes).map((at) => ctx.kernels.f32(at, width * height));
  const planes = allocatePlanes(scope, rect.width * rect.height);
  const out = views(planes, rect);
  const bounds = { x: 0, y: 0, ...sizeAtLevel(job.inputs.width, job.inputs.height, level) };
  for (let y = Math.floor(rect.y / SETTLED_TILE) * SETTLED_TILE; y < rect.y + rect.height; y += SETTLED_TILE) {
    for (let x = Math.floor(rect.x / SETTLED_TILE) * SETTLED_TILE; x < rect.x + rect.width; x += SETTLED_TILE) {
      const tile = intersect({ x, y, width: SETTLED_TILE, height: SETTLED_TILE }, bounds);
      const key = `settled/${level}/${x}/${y}/${stackKey(job, { level, rect: tile }, layers)}`;
      const made = ctx.cache.take(key, () => ctx.kernels.withScope((inner) => views(lay(tile, inner), tile).map((v) => v.slice())), bytesHeld);
      made.forEach((plane, c) => copyShared(out[c], rect, plane, tile));
    }
  }
  return planes;
}

/** The part of planes that lies in a rectangle; the same planes where that is all. */
function cutPlanes(planes: Planes, wide: Rectangle, rect: Rectangle, scope: Scope): Planes {
  if (wide.width === rect.width && wide.height === rect.height) return planes;
  const out = allocatePlanes(scope, rect.width * rect.height);
  each(out).forEach((at, c) => {
    cutInto(scope.kernels.f32(at, rect.width * rect.height), scope.kernels.f32(each(planes)[c], wide.width * wide.height), wide, rect);
  });
  return out;
}

/** Finish: exposure and white balance as one matrix, contrast and chroma, then the tone response of a scene-linear picture. */
function finish({ kernels, cache }: EngineContext, job: PreparedJob, planes: Planes, scope: Scope): void {
  const gain = exp2(adjustmentValues(job.records, "exposure").ev);
  const { mired, duv } = adjustmentValues(job.records, "whiteBalance");
  const { factor: contrast, pivot } = adjustmentValues(job.records, "contrast");
  const { factor: chroma } = adjustmentValues(job.records, "chroma");
  if (gain !== 1 || mired !== 0 || duv !== 0) {
    kernels.run("applyMatrix", [...each(planes), scope.matrix(whiteBalanceMatrix(mired, duv).map((v) => v * gain))], 0, planes.length, 16384);
  }
  if (contrast !== 1 || chroma !== 1) kernels.run("gradeSamples", [...each(planes), contrast, pivot, chroma], 0, planes.length, 16384);
  if (job.method === "radiance") applyTone(cache, job.records, planes, scope);
}

/** The tone response that makes a scene-linear picture fit for a screen; judged in Rec. 709, the narrowest space delivered. */
export function applyTone(cache: DerivedCache, records: Records, planes: Planes, scope: Scope): void {
  const values = adjustmentValues(records, "tone") as unknown as ToneValues;
  const table = cache.take(
    `tone/${JSON.stringify(values)}`,
    () => toneTable(toneResponse(values)),
    (t) => t.byteLength,
  );
  const at = scope.floats(table.length);
  scope.kernels.f32(at, table.length).set(table);
  scope.kernels.run("toneSamples", [...each(planes), at, LOWEST_OCTAVE, OCTAVES, scope.matrix(WORKING_TO_REC709)], 0, planes.length, 16384);
}
