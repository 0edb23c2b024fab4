import { isRepeat, type MergeMethod } from "../../../core/merge/mergeMethods";
import { sizeAtLevel, widen, type Rectangle } from "../../../core/geometry/rectangle";
import { cutInto } from "../../../core/raster/planeParts";
import { LOWEST_OCTAVE, OCTAVES, toneResponse, toneTable, type ToneValues } from "../../../core/color/toneCurve";
import { whiteBalanceMatrix } from "../../../core/color/whiteBalance";
import { exp2 } from "../../../core/numeric/elementary";
import { stackReach } from "../../../document/layerReach";
import { FRESH_MERGE } from "../../../document/mergeEdits";
import type { Records } from "../../../document/records/types";
import { adjustmentValues, childrenOf, frameOfLayer, ghostsOf, layersOf, mergeOf, responseInForce } from "../../../document/selectors";
import type { Scope } from "../../../kernels/Kernels";
import type { EngineContext } from "../../EngineContext";
import { seldom, type Task } from "../../task";
import { allocatePlanes, each, WORKING_TO_REC709, type Planes } from "../frames/frameSamples";
import { mergeMethod, openMergeInputs, withResponse, type MergeInputs, type MergeResult } from "../merge/mergeInputs";
import { openFocus } from "../merge/mergeFocus";
import { openGround } from "../merge/mergeGround";
import { openPanorama } from "../panorama/openPanorama";
import { openRepeats } from "../merge/mergeRepeats";
import { openFusion } from "../merge/mergeFusion";
import { openRadiance } from "../merge/mergeRadiance";
import { applyLocalTone, prepareLocalTone, type LocalTone } from "../finish/localTone";
import { atCoarse, coarseLevel, raised } from "../merge/coarseMerge";
import type { SettledLayers } from "./LowerLayers";
import { findAreas } from "../masks/foundMask";
import { planFills, type FillPlan } from "../retouch/retouch";
import { layStack } from "./layStack";
import { readMerge, type ShownFrame } from "../merge/readLayer";
import { seatDonors } from "../merge/seatDonors";
import { colorOf, openSource } from "../frames/sources";
import { developedColor } from "../frames/develop";

/** A job whose merge is at hand, so that any rectangle of it can be computed at once. */
export interface PreparedJob {
  records: Records;
  inputs: MergeInputs;
  merge: MergeResult;
  method: MergeMethod;
  /** frames that layers show and that are not among those merged, by id */
  pictures: ReadonlyMap<string, ShownFrame>;
  /** where the areas of layers that fill are filled from, by layer */
  fills: ReadonlyMap<string, FillPlan>;
  /** the lowest layers that are kept as they are, while the job is worked on */
  settled?: SettledLayers;
  /** what the local tone response needs of the whole picture, or null where it is off */
  local: LocalTone | null;
  /** the finest display level at hand */
  finest: number;
}

const NO_FILLS: ReadonlyMap<string, FillPlan> = new Map();

/** How far down the order of operations a picture is taken. */
export type ComposeUpTo = "merge" | "layers" | "finish";

/** Opens or makes all that a job's picture derives from. */
export async function prepareJob(ctx: EngineContext, records: Records, task: Task, method = mergeMethod(records)): Promise<PreparedJob> {
  const opened = await openMergeInputs(ctx, records, task);
  const inputs = method === "radiance" ? withResponse(opened, responseInForce(records)) : opened;
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
    local: null,
    finest: 0,
  };
  await findAreas(ctx, job, task);
  const filled = { ...job, fills: await planFills(ctx, job, task) };
  return { ...filled, local: await prepareLocalTone(ctx, filled, (level, rect, scope) => composeRect(ctx, filled, level, rect, "layers", scope)) };
}

/** Opens what layers show besides the frames merged, at its own size and as it was developed. */
async function openPictures(ctx: EngineContext, records: Records, inputs: MergeInputs): Promise<Map<string, ShownFrame>> {
  const pictures = new Map<string, ShownFrame>();
  for (const id of layersOf(records).map(frameOfLayer)) {
    const frame = id && !pictures.has(id) && !inputs.frames.some((f) => f.frame.id === id) ? records[id] : undefined;
    if (frame?.kind !== "frame") continue;
    const file = await openSource(ctx, frame.sourceId);
    pictures.set(frame.id, { file, color: developedColor(await colorOf(ctx, frame.sourceId), frame.development) });
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
  return { records, inputs, merge, method, pictures: await openPictures(ctx, records, inputs), fills: NO_FILLS, local: null, finest };
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
  finish(job, planes, scope);
  return planes;
}

/** The merge with its layers. Where some layer looks around itself, a larger rectangle is laid and the one asked for cut out. */
function layersRect(ctx: EngineContext, job: PreparedJob, level: number, rect: Rectangle, scope: Scope): Planes {
  const lower = job.settled?.count ?? 0;
  const layers = childrenOf(job.records, null);
  const lay = (where: Rectangle, from: number, to: number, inner: Scope): Planes => {
    const { width, height } = job.inputs;
    const wide = widen(where, stackReach(job.records, level, layers.slice(from, to)), sizeAtLevel(width, height, level));
    const planes = from > 0 ? settledRect(ctx, job, level, wide, inner, (tile, s) => lay(tile, 0, from, s)) : readMerge(inner, job.merge, level, wide);
    layStack(ctx, job, { level, rect: wide, width, height }, planes, from, to);
    return cutPlanes(planes, wide, where, inner);
  };
  return lay(rect, lower, layers.length, scope);
}

/** What the settled lowest layers make of the merge, from tiles. */
function settledRect(
  ctx: EngineContext,
  job: PreparedJob,
  level: number,
  rect: Rectangle,
  scope: Scope,
  lay: (tile: Rectangle, scope: Scope) => Planes,
): Planes {
  const views = (planes: Planes, { width, height }: Rectangle) => each(planes).map((at) => ctx.kernels.f32(at, width * height));
  const out = allocatePlanes(scope, rect.width * rect.height);
  job.settled!.read(job, level, rect, views(out, rect), (tile) => ctx.kernels.withScope((inner) => views(lay(tile, inner), tile).map((v) => v.slice())));
  return out;
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
function finish(job: PreparedJob, planes: Planes, scope: Scope): void {
  const { kernels } = scope;
  const gain = exp2(adjustmentValues(job.records, "exposure").ev);
  const { mired, duv } = adjustmentValues(job.records, "whiteBalance");
  const { factor: contrast, pivot } = adjustmentValues(job.records, "contrast");
  const { factor: chroma } = adjustmentValues(job.records, "chroma");
  if (gain !== 1 || mired !== 0 || duv !== 0) {
    kernels.run("applyMatrix", [...each(planes), scope.matrix(whiteBalanceMatrix(mired, duv).map((v) => v * gain))], 0, planes.length, 16384);
  }
  if (contrast !== 1 || chroma !== 1) kernels.run("gradeSamples", [...each(planes), contrast, pivot, chroma], 0, planes.length, 16384);
  if (job.method === "radiance") applyTone(job.records, planes, scope);
}

/** The tone response that makes a scene-linear picture fit for a screen; judged in Rec. 709, the narrowest space delivered. */
export function applyTone(records: Records, planes: Planes, scope: Scope): void {
  const table = tableOf(adjustmentValues(records, "tone") as unknown as ToneValues);
  const at = scope.floats(table.length);
  scope.kernels.f32(at, table.length).set(table);
  scope.kernels.run("toneSamples", [...each(planes), at, LOWEST_OCTAVE, OCTAVES, scope.matrix(WORKING_TO_REC709)], 0, planes.length, 16384);
}

let lastTable: { key: string; table: Float32Array } | null = null;

function tableOf(values: ToneValues): Float32Array {
  const key = JSON.stringify(values);
  if (lastTable?.key !== key) lastTable = { key, table: toneTable(toneResponse(values)) };
  return lastTable.table;
}
