import type { TileRegion } from "../../../core/adjust/spatial";
import { ADJUSTMENT_PREPARATIONS, applyAdjustment } from "../../../kinds/adjustments/operations";
import { needsSceneLight, valuesOf } from "../../../kinds/adjustments/records";
import { operationOf } from "../../../kinds/merges/operations";
import { mergeKind, type MergeMethod } from "../../../kinds/merges/records";
import { intersect, sizeAtLevel, widen, type Rectangle } from "../../../core/geometry/rectangle";
import { copyShared } from "../../../core/raster/planeParts";
import { stackReach } from "./layerReach";
import type { LayerRecord } from "../../../document/records/layerTypes";
import type { Records } from "../../../document/records/types";
import { childrenOf, finishValues, ghostsOf, isFinish, layersOf } from "../../../document/selectors";
import type { Scope } from "../../../kernels/Kernels";
import type { EngineContext } from "../../EngineContext";
import { recordOf } from "../../../kinds/contents/records";
import { bytesHeld } from "../../graph/bytesHeld";
import { contentKey } from "../../graph/keys";
import { seldom, type Task } from "../../task";
import { allocatePlanes, cutPlanes, each, type Planes } from "../frames/frameSamples";
import { mergeMethod, openMergeInputs } from "../merge/mergeInputs";
import { atCoarse, coarseLevel, asFinerLevels } from "../merge/coarseMerge";
import { findAreas } from "../masks/foundMask";
import { openCutouts } from "../matte/cutouts";
import { planFills } from "../retouch/retouch";
import { layStack, readBelow } from "./layStack";
import type { FillPlan, PreparedJob } from "./PreparedJob";
import { belowKey, layerKey, stackKey } from "./stackKeys";
import { readMerge, type ShownFrame } from "../merge/readLayer";
import { blendDonors } from "../merge/blendDonors";
import { colorOf, openFrame } from "../frames/sources";
import { developedColor } from "../frames/develop";
import type { MergeInputs } from "../merge/mergeTypes";

const NO_FILLS: ReadonlyMap<string, FillPlan> = new Map();
const NO_CUTOUTS: PreparedJob["cutouts"] = new Map();

/** How far down the order of operations a picture is taken. */
export type ComposeUpTo = "merge" | "layers" | "finish";

/** Opens or makes the merge of a job and what its masks are measured in, without what its layers need besides. */
export async function prepareMasks(ctx: EngineContext, records: Records, task: Task, method = mergeMethod(records)): Promise<PreparedJob> {
  const opened = await openMergeInputs(ctx, records, task);
  const merging = operationOf(method);
  const inputs = merging.reads?.(ctx.cache, records, opened) ?? opened;
  const merged = await merging.open(ctx, inputs, records, task);
  const exposureEv = merging.exposureEv?.(records, inputs) ?? 0;
  const job: PreparedJob = {
    records,
    inputs,
    merge: await blendDonors(ctx, inputs, merged, method, ghostsOf(records), task, exposureEv),
    method,
    pictures: new Map(),
    cutouts: NO_CUTOUTS,
    fills: NO_FILLS,
    unchanged: 0,
    prepared: new Map(),
    finest: 0,
  };
  await findAreas(ctx, job, task);
  return job;
}

/** Opens or makes all that a job's picture derives from. */
export async function prepareJob(ctx: EngineContext, records: Records, task: Task, method = mergeMethod(records)): Promise<PreparedJob> {
  const job = await prepareMasks(ctx, records, task, method);
  const pictures = await openPictures(ctx, records, job.inputs);
  const pictured = { ...job, pictures, cutouts: await openCutouts(ctx, records, job.inputs, pictures, task) };
  return prepareLayers(ctx, { ...pictured, fills: await planFills(ctx, pictured, task) });
}

/** Finds what adjustments need of all that lies below them, from the lowest on, as one may lie below another. */
function prepareLayers(ctx: EngineContext, job: PreparedJob): PreparedJob {
  const { width, height } = job.inputs;
  const size = { width, height, levels: job.merge.picture.spec.levels };
  const prepared = new Map<string, object>();
  const ready = { ...job, prepared };
  for (const layer of fromBottom(job.records, null)) {
    const { content } = layer;
    const preparation = content.type === "adjustment" ? ADJUSTMENT_PREPARATIONS[content.adjustment] : undefined;
    if (content.type !== "adjustment" || !preparation || (needsSceneLight(content.adjustment) && !mergeKind(job.method).givesSceneLight)) continue;
    const values = valuesOf(content.adjustment, content.values);
    const parameters = preparation.parameters(values);
    if (!parameters) continue;
    const key = contentKey(content.adjustment, preparation.version, [belowKey(ready, layer), ...parameters]);
    const make = () => preparation.make(ctx, size, values, (level, rect, scope) => readBelow(ctx, ready, layer, level, rect, scope));
    prepared.set(layer.id, ctx.cache.take(key, make, bytesHeld));
  }
  return ready;
}

/** Layers that are shown, each after what it holds. */
const fromBottom = (records: Records, parentId: string | null): LayerRecord[] =>
  childrenOf(records, parentId).flatMap((l) => (l.visible && l.opacity > 0 ? [...fromBottom(records, l.id), l] : []));

/** Opens what layers show besides the frames merged, at its own size and as it was developed. */
async function openPictures(ctx: EngineContext, records: Records, inputs: MergeInputs): Promise<Map<string, ShownFrame>> {
  const pictures = new Map<string, ShownFrame>();
  for (const id of layersOf(records).flatMap(({ content }) => recordOf(content).reads?.(content).frameIds ?? [])) {
    const frame = !pictures.has(id) && !inputs.frames.some((f) => f.frame.id === id) ? records[id] : undefined;
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
  const merged = await operationOf(method).open(ctx, atCoarse(inputs, finest), records, hurried);
  const merge = { ...merged, picture: asFinerLevels(merged.picture, finest, inputs), dominant: asFinerLevels(merged.dominant, finest, inputs) };
  const pictures = await openPictures(ctx, records, inputs);
  return { records, inputs, merge, method, pictures, cutouts: NO_CUTOUTS, fills: NO_FILLS, unchanged: 0, prepared: new Map(), finest };
}

/** Working planes of a rectangle (inside the level) in reference coordinates. */
export function composeRect(ctx: EngineContext, job: PreparedJob, level: number, rect: Rectangle, upTo: ComposeUpTo, scope: Scope): Planes {
  if (upTo === "merge") return readMerge(scope, job.merge, level, rect);
  return layersRect(ctx, job, level, rect, scope, upTo === "finish");
}

/** The merge with its layers. Where some layer looks around itself, a larger rectangle is laid and the one asked for cut out. */
function layersRect(ctx: EngineContext, job: PreparedJob, level: number, rect: Rectangle, scope: Scope, finished: boolean): Planes {
  const layers = childrenOf(job.records, null).filter((l) => finished || !isFinish(l));
  const lower = Math.min(job.unchanged, layers.length);
  const lay = (where: Rectangle, from: number, to: number, inner: Scope): Planes => {
    const { width, height } = job.inputs;
    const wide = widen(where, stackReach(job.records, level, layers.slice(from, to)), sizeAtLevel(width, height, level));
    const planes =
      from > 0
        ? unchangedRect(ctx, job, layers.slice(0, from), level, wide, inner, (tile, s) => lay(tile, 0, from, s))
        : readMerge(inner, job.merge, level, wide);
    layStack(ctx, job, { level, rect: wide, width, height }, planes, from, to);
    return cutPlanes(inner, planes, wide, where);
  };
  return lay(rect, lower, layers.length, scope);
}

/** How many of the lowest layers stayed as they were since this was last asked: those are kept together. A layer goes with those that are clipped to it. */
export function unchangedLayers(ctx: EngineContext, job: PreparedJob): number {
  const layers = childrenOf(job.records, null);
  let count = ctx.stable.count([`${job.merge.key}/${job.finest}`, ...layers.map((l) => layerKey(job, l))]);
  while (count > 0 && layers[count]?.clipped) count--;
  return count;
}

/** Side of a tile of what the lowest layers make, samples. */
const UNCHANGED_TILE = 256;

/** What the lowest layers make of the merge, put together from tiles. @param lay makes one, which lies inside the level */
function unchangedRect(
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
  for (let y = Math.floor(rect.y / UNCHANGED_TILE) * UNCHANGED_TILE; y < rect.y + rect.height; y += UNCHANGED_TILE) {
    for (let x = Math.floor(rect.x / UNCHANGED_TILE) * UNCHANGED_TILE; x < rect.x + rect.width; x += UNCHANGED_TILE) {
      const tile = intersect({ x, y, width: UNCHANGED_TILE, height: UNCHANGED_TILE }, bounds);
      const key = `unchanged/${level}/${x}/${y}/${stackKey(job, { level, rect: tile }, layers)}`;
      const made = ctx.cache.take(key, () => ctx.kernels.withScope((inner) => views(lay(tile, inner), tile).map((v) => v.slice())), bytesHeld);
      made.forEach((plane, c) => copyShared(out[c], rect, plane, tile));
    }
  }
  return planes;
}

/** Brings what no finish lies on to a screen, by the tone response of the job. */
export function forScreen(
  { cache, filters }: EngineContext,
  job: PreparedJob,
  planes: Planes,
  where: Omit<TileRegion, "width" | "height">,
  scope: Scope,
): void {
  const { width, height } = job.inputs;
  const site = {
    scope,
    planes,
    where: { ...where, width, height },
    cache,
    filters,
    isSceneLight: mergeKind(job.method).givesSceneLight ?? false,
    prepared: undefined,
  };
  applyAdjustment(site, "toneResponse", finishValues(job.records, "toneResponse"));
}
