import { Refusal } from "../../../core/refusal";
import { DISPLAY_P3, REC2020, REC709, rgbToRgb } from "../../../core/color/primaries";
import { IDENTITY } from "../../../core/geometry/matrix3";
import { intersect, sizeAtLevel, type Rectangle } from "../../../core/geometry/rectangle";
import type { Records } from "../../../document/records/types";
import { stripRows } from "../layers/layerReach";
import { outputGeometry } from "../../../document/outputGeometry";
import { documentSize, framesOf, relativeEvOf } from "../../../document/selectors";
import type { Scope } from "../../../kernels/Kernels";
import type { EngineContext } from "../../EngineContext";
import type { Task } from "../../task";
import { compare, warpedPlanes, type Source } from "./compareViews";
import { levelsUntilReady, readyCutouts } from "../matte/cutouts";
import { exp2 } from "../../../core/numeric/elementary";
import { composeRect, forScreen, prepareCoarse, prepareJob, unchangedLayers } from "../layers/compose";
import { allocatePlanes, each, readWorking, type Planes } from "../frames/frameSamples";
import { composeOutput } from "../finish/composeOutput";
import { developedColor } from "../frames/develop";
import { layoutPlanes, openLayout } from "../panorama/layoutView";
import { readLayer } from "../merge/readLayer";
import { drawResidual, overlay } from "./viewOverlays";
import { coarser, isCoarser, missingTiles, onTiles, tilesOf, type HeldTiles } from "./viewTiles";
import { viewKeys } from "./viewKeys";
import type { ScreenSpace, ViewSpec } from "./ViewSpec";
import { levelCount } from "../frames/levels";
import { openPlaced } from "../frames/placeFrame";
import { colorOf } from "../frames/sources";
import type { MergeFrame } from "../merge/mergeTypes";
import type { PreparedJob } from "../layers/PreparedJob";
import { openTarget, printedPlanes } from "../print/printing";
import { pictureIdOf } from "../../../document/sourceIds";

/** What is asked of a view. */
export interface ViewRequest {
  view: ViewSpec;
  level: number;
  rect: Rectangle;
  space: ScreenSpace;
  /** what the screen holds already: only tiles that differ are drawn */
  held?: HeldTiles | null;
  /** where more samples than these would have to be drawn, what is drawn may be coarser; null: all of it is wanted as it is */
  atMost?: number | null;
}

export interface RenderedView {
  /** on the grid of tiles, as far as the picture goes */
  rect: Rectangle;
  level: number;
  /** of each tile of the rectangle, row by row; one that is shown coarser has a key of its own */
  keys: string[];
  /** what the screen lacked, each in samples of its own level: where there was no time, a coarser one */
  pieces: { rect: Rectangle; level: number; rgba: Uint8ClampedArray<ArrayBuffer> }[];
  /** whether every tile is shown at this level now */
  isExact: boolean;
  /** how long that took to draw, ms */
  tookMs: number;
}

const TO_SCREEN: Record<ScreenSpace, number[]> = { srgb: rgbToRgb(REC2020, REC709), "display-p3": rgbToRgb(REC2020, DISPLAY_P3) };

/** Whether a view shows delivered px. */
const isFinished = (view: ViewSpec): boolean => view.kind === "output" || view.kind === "printed";

/** Full size of what a view shows. */
export function viewSize(records: Records, view: ViewSpec): { width: number; height: number } | null {
  if (view.kind === "source") {
    const frame = framesOf(records).find((f) => f.id === view.frameId);
    return frame ? { width: frame.width, height: frame.height } : null;
  }
  if (isFinished(view)) {
    const { crop } = outputGeometry(records);
    return documentSize(records) ? { width: crop.width, height: crop.height } : null;
  }
  if (view.kind === "panorama" && view.view) return { width: view.view.width, height: view.view.height };
  return documentSize(records);
}

/** A view of a job, opened at a level: draws any rectangle of it. */
interface OpenView {
  level: number;
  bounds: { width: number; height: number };
  job: PreparedJob | null;
  draw(rect: Rectangle, onRows: (rows: number) => Promise<void>, task: Task): Promise<Uint8ClampedArray<ArrayBuffer>>;
}

/** @param asked the level wanted; where it is not at hand, the nearest one is opened that is */
async function openView(ctx: EngineContext, records: Records, view: ViewSpec, asked: number, space: ScreenSpace, task: Task): Promise<OpenView> {
  const size = viewSize(records, view);
  if (!size) throw new Refusal("gone", "view.nothing");
  const bare = view.kind === "source" || view.kind === "placing";
  const layout = view.kind === "panorama" ? await openLayout(ctx, records, view.view) : null;
  const job = bare || layout ? null : await prepareView(ctx, records, view, task);
  // a small picture has few levels: the coarsest there is stands for all that are coarser
  const level = Math.max(Math.min(asked, levelCount(size.width, size.height) - 1), job?.finest ?? 0);
  const sources: Source[] = [];
  if (bare) sources.push(await openFrame(ctx, records, view.frameId, view.kind === "source", task));
  if (view.kind === "placing") sources.push(await openFrame(ctx, records, view.referenceId, true, task));
  const planesOf = (band: Rectangle, scope: Scope): Planes =>
    layout
      ? layoutPlanes(layout, level, band, scope)
      : view.kind === "source"
        ? sourcePlanes(scope, sources[0], level, band)
        : view.kind === "placing"
          ? placingPlanes(records, view, sources, level, band, scope)
          : viewPlanes(ctx, job!, view, level, band, scope);
  const strip = stripRows(records, level);
  const target = view.kind === "printed" ? await openTarget(ctx, records) : null;
  if (view.kind === "printed" && !target) throw new Refusal("gone", "view.noTarget");
  const frames = isFinished(view) ? undefined : (layout ?? job?.inputs)?.frames;
  const draw: OpenView["draw"] = async (rect, onRows, drawing) => {
    if (job && view.kind !== "merge") await readyCutouts(job, level, drawing);
    const rgba = new Uint8ClampedArray(rect.width * rect.height * 4);
    if (job && view.kind === "residual") {
      await drawResidual(ctx, job, view.layerId, level, rect, rgba, drawing);
      return rgba;
    }
    for (let y = rect.y; y < rect.y + rect.height; y += strip) {
      const band = { ...rect, y, height: Math.min(strip, rect.y + rect.height - y) };
      const marked: number[] = [];
      const mark = (sample: number) => marked.push(sample);
      const bytes = ctx.kernels.withScope((scope) =>
        encode(
          scope,
          target && view.kind === "printed" ? printedPlanes(ctx, job!, target, level, band, scope, view.marks, mark) : planesOf(band, scope),
          band,
          space,
        ),
      );
      if (marked.length > 0) hatch(bytes, marked, band);
      if (job) overlay(ctx, job, view, level, band, bytes);
      if (frames?.[0]?.projected) clearUncovered(frames, level, band, bytes);
      rgba.set(bytes, (y - rect.y) * rect.width * 4);
      await onRows(band.height);
    }
    return rgba;
  };
  return { level, bounds: sizeAtLevel(size.width, size.height, level), job, draw };
}

/**
 * Renders a rectangle of a view at a display level, exact at that level; where the level is not at hand, at the next coarser one that is.
 * Only tiles whose key is not the one that the screen holds are drawn. Where those are too many samples they are drawn coarser, and what the screen holds beside them stays sharp.
 */
export async function renderView(ctx: EngineContext, records: Records, request: ViewRequest, task: Task): Promise<RenderedView> {
  const { view, space, held, atMost } = request;
  const fine = await openView(ctx, records, view, request.level, space, task);
  const { level, bounds } = fine;
  const rect = onTiles(coarsened(request.rect, level - request.level), bounds);
  const keys = tilesOf(rect).map(viewKeys(records, fine.job, view, space, level));
  const { missing, shown } = missingTiles(rect, keys, held?.level === level ? held : null, atMost != null);
  const samples = missing.reduce((sum, r) => sum + r.width * r.height, 0);
  const by = atMost != null && missing.length > 0 ? coarserBy(samples / atMost, fine) : 0;
  const drawn = by > 0 ? await openView(ctx, records, view, level + by, space, task) : fine;
  const parts = missing.map((part) => intersect(coarsened(part, drawn.level - level), { x: 0, y: 0, ...drawn.bounds }));
  const all = parts.reduce((sum, r) => sum + r.height, 0);
  let done = 0;
  const began = performance.now();
  const pieces: RenderedView["pieces"] = [];
  for (const part of parts)
    pieces.push({ rect: part, level: drawn.level, rgba: await drawn.draw(part, (rows) => task.step((done += rows), all, "task.drawing"), task) });
  const now = keys.map((key, i) => shown[i] ?? (drawn.level > level ? coarser(key) : key));
  return { rect, level, keys: now, pieces, isExact: !now.some(isCoarser), tookMs: performance.now() - began };
}

/** A quick picture is at most so many levels coarser. */
const MOST_COARSER = 3;

/** Levels by which a picture has to be coarser to have so many times fewer samples. */
function coarserBy(times: number, { bounds, job, level }: OpenView): number {
  const left = levelCount(bounds.width, bounds.height) - 1;
  const bySamples = Math.min(MOST_COARSER, Math.ceil(Math.log2(times) / 2));
  return Math.max(0, Math.min(left, Math.max(bySamples, job ? levelsUntilReady(job, level) : 0)));
}

/** One rectangle of a view, just as large as it was asked for. */
export interface RenderedRect {
  rect: Rectangle;
  level: number;
  rgba: Uint8ClampedArray<ArrayBuffer>;
}

export async function renderRect(ctx: EngineContext, records: Records, request: Omit<ViewRequest, "held" | "atMost">, task: Task): Promise<RenderedRect> {
  const { level, bounds, draw } = await openView(ctx, records, request.view, request.level, request.space, task);
  const rect = intersect(coarsened(request.rect, level - request.level), { x: 0, y: 0, ...bounds });
  let done = 0;
  return { rect, level, rgba: await draw(rect, (rows) => task.step((done += rows), rect.height, "task.drawing"), task) };
}

/** What no frame of a panorama shows is see-through. */
function clearUncovered(frames: MergeFrame[], level: number, band: Rectangle, bytes: Uint8ClampedArray): void {
  const covered = new Uint8Array(band.width * band.height);
  for (const { projected } of frames) projected?.coverage(level, band).forEach((on, i) => on && (covered[i] = 1));
  covered.forEach((on, i) => on || (bytes[i * 4 + 3] = 0));
}

function prepareView(ctx: EngineContext, records: Records, view: ViewSpec, task: Task): Promise<PreparedJob> {
  if (view.kind === "coarse") return prepareCoarse(ctx, records, task, view.method);
  if (view.kind === "compose" || isFinished(view)) {
    return prepareJob(ctx, records, task).then((job): PreparedJob => ({ ...job, unchanged: unchangedLayers(ctx, job) }));
  }
  if (view.kind !== "merge") return prepareJob(ctx, records, task);
  const shown = view.bare ? Object.fromEntries(Object.entries(records).filter(([, r]) => r.kind !== "ghost")) : records;
  return prepareJob(ctx, shown, task, view.method ?? undefined);
}

/** A rectangle at a level coarser by `by`, at least as large. */
function coarsened({ x, y, width, height }: Rectangle, by: number): Rectangle {
  const s = 2 ** by;
  const [left, top] = [Math.floor(x / s), Math.floor(y / s)];
  return { x: left, y: top, width: Math.ceil((x + width) / s) - left, height: Math.ceil((y + height) / s) - top };
}

/** A frame by itself, as developed; with its lens undone where that is known and asked for. */
async function openFrame(ctx: EngineContext, records: Records, frameId: string, straighten: boolean, task: Task): Promise<Source> {
  const frame = framesOf(records).find((f) => f.id === frameId);
  if (!frame) throw new Refusal("gone", "view.frameGone");
  const { width, height, development } = frame;
  const file = await openPlaced(ctx, { pictureId: pictureIdOf(frame), matrix: IDENTITY, lens: straighten ? development.lens : null, width, height }, task);
  return { file, color: developedColor(ctx.cache, await colorOf(ctx, frame.sourceId), development) };
}

function sourcePlanes(scope: Scope, source: Source, level: number, rect: Rectangle): Planes {
  const planes = allocatePlanes(scope, rect.width * rect.height);
  readWorking(scope, source.file, source.color, level, rect, planes);
  return planes;
}

function viewPlanes(ctx: EngineContext, job: PreparedJob, view: ViewSpec, level: number, rect: Rectangle, scope: Scope): Planes {
  switch (view.kind) {
    case "output":
      return composeOutput(ctx, job, level, rect, "finish", scope);
    case "frame":
      return framePlanes(ctx, job, view, level, rect, scope);
    case "merge":
    case "coarse":
    case "confidence":
    case "depth":
    case "provenance": {
      const planes = composeRect(ctx, job, level, rect, "merge", scope);
      if (view.kind === "merge" && view.liftEv) return lifted(scope, planes, view.liftEv);
      forScreen(ctx, job, planes, { level, rect }, scope);
      return planes;
    }
    case "compose":
      if (view.liftEv) return lifted(scope, composeRect(ctx, job, level, rect, "layers", scope), view.liftEv);
      return composeRect(ctx, job, level, rect, "finish", scope);
    default:
      return composeRect(ctx, job, level, rect, "finish", scope);
  }
}

/** Width of the stripes that mark places, samples of the screen. */
const STRIPE = 3;

/** Marks samples by stripes of black and white, which show on any colour. */
function hatch(bytes: Uint8ClampedArray, samples: readonly number[], { x, y, width }: Rectangle): void {
  for (const i of samples) {
    const [u, v] = [x + (i % width), y + Math.floor(i / width)];
    const stripe = (((u + v) % (4 * STRIPE)) + 4 * STRIPE) % (4 * STRIPE);
    if (stripe < STRIPE || (stripe >= 2 * STRIPE && stripe < 3 * STRIPE)) bytes.fill(stripe < STRIPE ? 0 : 255, 4 * i, 4 * i + 3);
  }
}

/** Brightened strongly, so that remnants in the dark show. */
function lifted(scope: Scope, planes: Planes, ev: number): Planes {
  const gain = exp2(ev);
  scope.kernels.run("applyMatrix", [...each(planes), scope.matrix([gain, 0, 0, 0, gain, 0, 0, 0, gain])], 0, planes.length, 65536);
  return planes;
}

function framePlanes(ctx: EngineContext, job: PreparedJob, view: ViewSpec & { kind: "frame" }, level: number, rect: Rectangle, scope: Scope): Planes {
  const input = job.inputs.frames.find((f) => f.frame.id === view.frameId);
  if (!input) throw new Refusal("notRegistered", "view.notPlaced");
  const planes = readLayer(scope, input, level, rect, view.levelled ? -input.relativeEv : 0);
  if (view.levelled) forScreen(ctx, job, planes, { level, rect }, scope);
  return planes;
}

/** A frame put somewhere, laid over the reference; nothing of it is kept. */
function placingPlanes(records: Records, view: ViewSpec & { kind: "placing" }, sources: Source[], level: number, rect: Rectangle, scope: Scope): Planes {
  const [frame, reference] = sources;
  const planes = warpedPlanes(scope, frame, view.placing.matrix, view.placing.lens, level, rect);
  if (view.mode === "frame") return planes;
  const below = allocatePlanes(scope, rect.width * rect.height);
  readWorking(scope, reference.file, reference.color, level, rect, below);
  const exposure = (id: string) => relativeEvOf(records, id) + (framesOf(records).find((f) => f.id === id)?.development.exposureEv ?? 0);
  compare(scope, view.mode, planes, below, exposure(view.frameId) - exposure(view.referenceId), rect);
  return planes;
}

/** 8×8 ordered dither (Bayer 1973), as rows of 16 floats so that four can be read at any column. */
const BAYER = (() => {
  const value = (x: number, y: number): number => {
    let v = 0;
    for (let bit = 0; bit < 3; bit++) {
      const a = (x >> bit) & 1;
      const b = (y >> bit) & 1;
      v |= ((a ^ b) << (2 * (2 - bit) + 1)) | (b << (2 * (2 - bit)));
    }
    return v;
  };
  return Float32Array.from({ length: 128 }, (_, i) => (value(i & 7, i >> 4) + 0.5) / 64);
})();

function encode(scope: Scope, planes: Planes, rect: Rectangle, space: ScreenSpace): Uint8ClampedArray {
  const { kernels } = scope;
  const bayer = scope.floats(128);
  kernels.f32(bayer, 128).set(BAYER);
  const out = scope.bytes(rect.width * rect.height * 4 + 64);
  kernels.run("encodeRows8", [...each(planes), scope.matrix(TO_SCREEN[space]), bayer, out, rect.width, rect.x, rect.y], 0, rect.height, 32);
  return Uint8ClampedArray.from(kernels.u8(out, rect.width * rect.height * 4));
}
