import { atLevel, fromLevels, IDENTITY, invert, project, type Matrix3 } from "../../../core/geometry/matrix3";
import { intersect, levelOfSide, sizeAtLevel, widen, type Rectangle } from "../../../core/geometry/rectangle";
import { measureRelativeExposure, thumbprint } from "../../../core/measure/relativeExposure";
import { median } from "../../../core/numeric/statistics";
import { sharedU16 } from "../../../core/raster/sharedArrays";
import { coarsestLevel, greyOf, levelOf, pyramidFromBase, type GreyPyramid } from "../../../core/register/greyPyramid";
import { fitPlaces } from "../../../core/register/fitPlaces";
import type { Region } from "../../../core/register/regions";
import { movedOf } from "../../../document/outputGeometry";
import type { LayerRecord } from "../../../document/records/layerTypes";
import type { FrameFit, Moved } from "../../../kinds/contents/frame/record";
import type { Scope } from "../../../kernels/Kernels";
import type { EngineContext } from "../../EngineContext";
import { portion, type Task } from "../../task";
import { each, type Planes } from "../frames/frameSamples";
import { shownBy } from "../layers/frameLayers";
import { readyCutouts } from "../matte/cutouts";
import { readBelow } from "../layers/layStack";
import type { PreparedJob } from "../layers/PreparedJob";
import { readLayer } from "../merge/readLayer";

/** Where a layer's frame fits onto what lies below it, and how the two compare there. */
export interface FittedFrame {
  moved: Moved;
  fit: FrameFit;
}

/** Pictures of more px are registered at half their size or less, which tells a few hundredths of a px all the same. */
const MOST_PX = 30e6;
const ROWS = 128;
/** A part keeps its shape: what a joint tells of more says nothing of what hangs on it. */
const PART_MODEL = "similarity" as const;

type Read = (scope: Scope, level: number, rect: Rectangle) => Planes;

/** What is registered: a picture at its finest level that is looked at. */
interface Looked {
  size: { width: number; height: number; levels: number };
  read: Read;
  level: number;
  grey: GreyPyramid;
}

/**
 * Registers the frame of a layer onto what lies below the layer, as that is shown: all that both show, or only what has to fit.
 * @param joint px of the picture; null: all of it @param beside what is not looked at, px of the picture
 * @returns null where nothing fits
 */
export async function fitFrame(
  ctx: EngineContext,
  job: PreparedJob,
  layer: LayerRecord,
  joint: Rectangle | null,
  beside: Rectangle | null,
  task: Task,
): Promise<FittedFrame | null> {
  if (layer.content.type !== "frame") return null;
  const { input, shown } = shownBy(job, layer.content);
  if (!shown) return null;
  const { width, height } = job.inputs;
  const { levels } = job.merge.picture.spec;
  await readyCutouts(job, finestOf(job.inputs), portion(task, 0, 0.2));
  const below = await lookAt(ctx, { width, height, levels }, (scope, level, rect) => readBelow(ctx, job, layer, level, rect, scope), portion(task, 0.2, 0.45));
  const own = await lookAt(ctx, shown.file.spec, (scope, level, rect) => readLayer(scope, shown, level, rect, 0), portion(task, 0.45, 0.6));
  await task.step(0.6, 1, "task.registering");
  const wanted = joint && intersect(joint, { x: 0, y: 0, width, height });
  const regions: Region[] = [
    ...(wanted ? [{ purpose: "lineUp" as const, shape: { kind: "box" as const, rectangle: atScale(wanted, below.level) } }] : []),
    ...(beside ? [{ purpose: "ignore" as const, shape: { kind: "box" as const, rectangle: atScale(beside, below.level) } }] : []),
  ];
  const marked = regions.length ? { regions, width: below.grey.width, height: below.grey.height } : null;
  const relativeEv = measureRelativeExposure(coarseOf(below.grey), coarseOf(own.grey)) ?? 0;
  // frames of the set were registered onto one another, so that a part lies near where they have it
  const options = { model: wanted ? PART_MODEL : ("auto" as const), ...(input && wanted ? { start: atLevel(IDENTITY, below.level, own.level) } : {}) };
  const found = await ctx.pool.run("registerPair", { fixed: below.grey, moving: own.grey, relativeEv, options, marked }, () =>
    task.step(0.7, 1, "task.registering"),
  );
  if (!found) return null;
  await task.step(0.95, 1, "task.comparing");
  const placed = wanted && fitPlaces(PART_MODEL, found.shifts, found.matrix, below.grey, own.grey);
  const { matrix, residualPx, agreeing } = placed ?? { matrix: found.matrix, ...found.agreement };
  const toOwn = fromLevels(matrix, below.level, own.level);
  const light = lightBetween(ctx, below, own, toOwn, wanted ?? { x: 0, y: 0, width, height });
  return {
    moved: movedOf(invert(toOwn), { width, height }, own.size),
    fit: { joint: wanted, residualPx: residualPx * 2 ** below.level, agreeing, ...light },
  };
}

const atScale = ({ x, y, width, height }: Rectangle, level: number): Rectangle => {
  const s = 2 ** level;
  return { x: Math.round(x / s), y: Math.round(y / s), width: Math.max(1, Math.round(width / s)), height: Math.max(1, Math.round(height / s)) };
};

const coarseOf = (grey: GreyPyramid) => thumbprint(levelOf(grey, Math.min(coarsestLevel(grey), levelOfSide(grey, 200))));

const finestOf = ({ width, height }: { width: number; height: number }): number => Math.max(0, Math.ceil(Math.log2((width * height) / MOST_PX) / 2));

async function lookAt(ctx: EngineContext, picture: Looked["size"], read: Read, task: Task): Promise<Looked> {
  const { kernels } = ctx;
  const { width, height } = picture;
  const level = finestOf(picture);
  const size = sizeAtLevel(width, height, level);
  const base = sharedU16(size.width * size.height);
  for (let y = 0; y < size.height; y += ROWS) {
    await task.step(y, size.height, "task.looking");
    const rect = { x: 0, y, width: size.width, height: Math.min(ROWS, size.height - y) };
    kernels.withScope((scope) => {
      const planes = read(scope, level, rect);
      for (const at of each(planes)) kernels.run("encodeSamples", [at, at, 65_535], 0, planes.length, 16_384);
      const [r, g, b] = each(planes).map((at) => kernels.f32(at, rect.width * rect.height));
      for (let i = 0, p = y * size.width; i < r.length; i++, p++) base[p] = greyOf(r[i], g[i], b[i], 65_535);
    });
  }
  return { size: picture, read, level, grey: pyramidFromBase(size.width, size.height, base) };
}

/** Longest side of what light is compared in, samples, and the light that is: what is clipped or dark tells nothing. Common practice, no source. */
const COMPARED = 200;
const [DARKEST, BRIGHTEST] = [0.004, 0.6];
const ENOUGH = 50;

/** Light of a frame against another where both lie on each other, EV: of green, and of red and blue against that. */
function lightBetween(
  { kernels }: EngineContext,
  below: Looked,
  own: Looked,
  toOwn: Matrix3,
  place: Rectangle,
): Pick<FrameFit, "lightEv" | "redEv" | "blueEv"> {
  const level = Math.min(levelOfSide(place, COMPARED), below.size.levels - 1, own.size.levels - 1);
  const size = sizeAtLevel(below.size.width, below.size.height, level);
  const s = 2 ** level;
  const rect = widen(
    { x: Math.floor(place.x / s), y: Math.floor(place.y / s), width: Math.ceil(place.width / s), height: Math.ceil(place.height / s) },
    0,
    size,
  );
  const read = (looked: Looked, at: Rectangle): Float32Array[] =>
    kernels.withScope((scope) => each(looked.read(scope, level, at)).map((p) => kernels.f32(p, at.width * at.height).slice()));
  const matrix = atLevel(toOwn, level);
  const corners = [
    [rect.x, rect.y],
    [rect.x + rect.width, rect.y],
    [rect.x, rect.y + rect.height],
    [rect.x + rect.width, rect.y + rect.height],
  ].map(([x, y]) => project(matrix, x, y));
  const bounds = sizeAtLevel(own.size.width, own.size.height, level);
  const [xs, ys] = [corners.map((c) => c[0]), corners.map((c) => c[1])];
  const window = intersect(
    {
      x: Math.floor(Math.min(...xs)),
      y: Math.floor(Math.min(...ys)),
      width: Math.ceil(Math.max(...xs)) - Math.floor(Math.min(...xs)) + 1,
      height: Math.ceil(Math.max(...ys)) - Math.floor(Math.min(...ys)) + 1,
    },
    { x: 0, y: 0, ...bounds },
  );
  const none = { lightEv: 0, redEv: 0, blueEv: 0 };
  if (window.width < 1 || window.height < 1) return none;
  const [p, q] = [read(below, rect), read(own, window)];
  const ratios: number[][] = [[], [], []];
  const isUsable = (planes: Float32Array[], i: number) => planes.every((plane) => plane[i] > DARKEST && plane[i] < BRIGHTEST);
  for (let i = 0; i < p[0].length; i++) {
    const [u, v] = project(matrix, rect.x + (i % rect.width), rect.y + Math.floor(i / rect.width)).map(Math.round);
    if (u < window.x || v < window.y || u >= window.x + window.width || v >= window.y + window.height) continue;
    const j = (v - window.y) * window.width + u - window.x;
    if (isUsable(p, i) && isUsable(q, j)) for (let c = 0; c < 3; c++) ratios[c].push(Math.log2(q[c][j] / p[c][i]));
  }
  if (ratios[0].length < ENOUGH) return none;
  const [red, green, blue] = ratios.map((r) => median(r));
  return { lightEv: green, redEv: red - green, blueEv: blue - green };
}
