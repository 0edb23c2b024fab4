import { atLevel, multiply, type Matrix3 } from "../../../core/geometry/matrix3";
import { intersect, levelOfSide, sizeAtLevel, widen, type Rectangle } from "../../../core/geometry/rectangle";
import { copyShared } from "../../../core/raster/planeParts";
import { cosine, sine } from "../../../core/numeric/elementary";
import { fillFrom } from "../../../core/retouch/fillFrom";
import { fillSmoothly, seatSource, solvePoisson } from "../../../core/retouch/membrane";
import type { LayerRecord } from "../../../document/records/layerTypes";
import type { LayerContent } from "../../../kinds/contents/records";
import { layersOf } from "../../../document/selectors";
import type { Scope } from "../../../kernels/Kernels";
import type { EngineContext } from "../../EngineContext";
import { bytesHeld } from "../../graph/bytesHeld";
import { contentKey } from "../../graph/keys";
import type { Task } from "../../task";
import type { FillPlan, PreparedJob } from "../layers/PreparedJob";
import { maskKey, retouchKey } from "../layers/stackKeys";
import { each, type Planes } from "../frames/frameSamples";
import { readMerge } from "../merge/readLayer";
import { resample } from "../frames/resample";
import { maskPlane } from "../masks/maskPlane";

export type Retouch = LayerContent & { type: "retouch" };

/** Longest side of the level on which the bounds of a mask are found. */
const BOUNDS_SIDE = 320;
/** A mask weaker than this changes nothing. */
export const LEAST = 0.004;
/** Samples around an area whose tones it is seated in. */
export const MARGIN = 3;
const RETOUCH_VERSION = 1;

interface Patch {
  rect: Rectangle;
  planes: Float32Array[];
}

/** Bounds of a mask at full size, a little larger; null of a mask that reveals nothing. */
export function maskBounds(ctx: EngineContext, job: PreparedJob, layer: LayerRecord): Rectangle | null {
  const { width, height } = job.inputs;
  const level = levelOfSide(job.inputs, BOUNDS_SIDE);
  const size = sizeAtLevel(width, height, level);
  const mask = maskPlane(ctx, job, layer, level, { x: 0, y: 0, ...size });
  let [x0, y0, x1, y1] = [Infinity, Infinity, -1, -1];
  mask.forEach((v, i) => {
    if (v <= 0) return;
    const [x, y] = [i % size.width, Math.floor(i / size.width)];
    [x0, y0, x1, y1] = [Math.min(x0, x), Math.min(y0, y), Math.max(x1, x), Math.max(y1, y)];
  });
  if (x1 < 0) return null;
  const s = 2 ** level;
  return intersect({ x: (x0 - 1) * s, y: (y0 - 1) * s, width: (x1 - x0 + 3) * s, height: (y1 - y0 + 3) * s }, { x: 0, y: 0, width, height });
}

export function atLevelOf(rect: Rectangle, level: number, margin: number, size: { width: number; height: number }): Rectangle {
  const s = 2 ** level;
  const [x, y] = [Math.floor(rect.x / s), Math.floor(rect.y / s)];
  return widen({ x, y, width: Math.ceil((rect.x + rect.width) / s) - x, height: Math.ceil((rect.y + rect.height) / s) - y }, margin, size);
}

/** Place in the picture → where a retouch takes it from, full size: turned, scaled and mirrored about the middle of its area, then shifted. */
export function sourceMatrix({ dx, dy, angleDeg, scale, mirrored }: Retouch, area: Rectangle): Matrix3 {
  const [cx, cy] = [area.x + (area.width - 1) / 2, area.y + (area.height - 1) / 2];
  const angle = (angleDeg * Math.PI) / 180;
  const [c, s, m] = [cosine(angle) / scale, sine(angle) / scale, mirrored ? -1 : 1];
  return multiply([1, 0, cx + dx, 0, 1, cy + dy, 0, 0, 1], multiply([m * c, m * s, 0, -s, c, 0, 0, 0, 1], [1, 0, -cx, 0, 1, -cy, 0, 0, 1]));
}

/**
 * What a retouch shows in a rectangle: what lies below it with its area healed, cloned, filled or smoothed over. Kept while nothing below changes.
 * @param read planes of what lies below, in any rectangle of the level
 */
export function retouched(
  ctx: EngineContext,
  job: PreparedJob,
  layer: LayerRecord,
  content: Retouch,
  where: { level: number; rect: Rectangle },
  planes: Planes,
  read: (rect: Rectangle, scope: Scope) => Planes,
): void {
  const key = contentKey("retouch", RETOUCH_VERSION, [where.level, retouchKey(job, layer)]);
  const patch = ctx.cache.take(key, () => makePatch(ctx, job, layer, content, where.level, read), bytesHeld);
  patch.planes.forEach((plane, c) => copyShared(ctx.kernels.f32(each(planes)[c], where.rect.width * where.rect.height), where.rect, plane, patch.rect));
}

function makePatch(
  ctx: EngineContext,
  job: PreparedJob,
  layer: LayerRecord,
  content: Retouch,
  level: number,
  read: (rect: Rectangle, scope: Scope) => Planes,
): Patch {
  const { kernels } = ctx;
  const area = maskBounds(ctx, job, layer);
  if (!area) return { rect: { x: 0, y: 0, width: 0, height: 0 }, planes: [] };
  const size = sizeAtLevel(job.inputs.width, job.inputs.height, level);
  const rect = atLevelOf(area, level, MARGIN, size);
  const n = rect.width * rect.height;
  const inside = Uint8Array.from(maskPlane(ctx, job, layer, level, rect), (v) => (v > LEAST ? 1 : 0));
  return kernels.withScope((scope) => {
    const target = squareRootPlanes(scope, read(rect, scope), n);
    if (content.method === "smooth") target.forEach((plane) => fillSmoothly(plane, inside, rect.width, rect.height));
    else if (content.method === "fill")
      fillPatch(job.fills.get(layer.id), level, rect, inside, target, size, (r) => squareRootPlanes(scope, read(r, scope), r.width * r.height));
    else {
      const matrix = atLevel(sourceMatrix(content, area), level);
      const source = squareRootPlanes(
        scope,
        resample(scope, matrix, rect, size, (window) => read(window, scope)),
        n,
      );
      target.forEach((plane, c) => {
        if (content.method === "heal") seatSource(plane, source[c], inside, rect.width, rect.height);
        else plane.forEach((_, i) => inside[i] && (plane[i] = source[c][i]));
      });
    }
    return { rect, planes: target.map((plane) => plane.map((v) => v * Math.abs(v))) };
  });
}

/** Planes on the root of light, where tones are seated as the eye sees them. */
export function squareRootPlanes(scope: Scope, planes: Planes, n: number): Float32Array[] {
  for (const at of each(planes)) scope.kernels.run("rootSamples", [at], 0, planes.length, 65536);
  return each(planes).map((at) => scope.kernels.f32(at, n).slice());
}

/** Puts the sources of a plan together: inside a piece its gradients, between pieces the mean of both. */
function fillPatch(
  plan: FillPlan | undefined,
  level: number,
  rect: Rectangle,
  inside: Uint8Array,
  target: Float32Array[],
  size: { width: number; height: number },
  read: (rect: Rectangle) => Float32Array[],
): void {
  if (!plan) return;
  const up = 2 ** (plan.level - level);
  const cell = (x: number, y: number) => {
    const u = Math.min(plan.rect.width - 1, Math.max(0, Math.floor((x + 0.5) / up) - plan.rect.x));
    const v = Math.min(plan.rect.height - 1, Math.max(0, Math.floor((y + 0.5) / up) - plan.rect.y));
    return v * plan.rect.width + u;
  };
  // all that sources lie in
  const s = Math.ceil(up);
  const around = intersect(
    {
      x: Math.floor(plan.rect.x * up) - s,
      y: Math.floor(plan.rect.y * up) - s,
      width: Math.ceil(plan.rect.width * up) + 2 * s,
      height: Math.ceil(plan.rect.height * up) + 2 * s,
    },
    { x: 0, y: 0, ...size },
  );
  const ground = read(around);
  const at = (plane: Float32Array, x: number, y: number) => {
    const u = Math.min(around.width - 1, Math.max(0, Math.round(x) - around.x));
    const v = Math.min(around.height - 1, Math.max(0, Math.round(y) - around.y));
    return plane[v * around.width + u];
  };
  const { width, height } = rect;
  target.forEach((plane, c) => {
    const rhs = new Float32Array(plane.length);
    for (let i = 0; i < plane.length; i++) {
      if (!inside[i]) continue;
      const [x, y] = [rect.x + (i % width), rect.y + Math.floor(i / width)];
      const own = cell(x, y);
      const [ox, oy] = [plan.field.dx[own] * up, plan.field.dy[own] * up];
      const here = at(ground[c], x + ox, y + oy);
      for (const [ux, uy] of NEIGHBOURS) {
        const [qx, qy] = [x + ux, y + uy];
        let step = here - at(ground[c], qx + ox, qy + oy);
        const j = i + uy * width + ux;
        if (qx >= rect.x && qx < rect.x + width && qy >= rect.y && qy < rect.y + height && inside[j]) {
          const other = cell(qx, qy);
          if (other !== own) {
            const [px, py] = [plan.field.dx[other] * up, plan.field.dy[other] * up];
            step = (step + at(ground[c], x + px, y + py) - at(ground[c], qx + px, qy + py)) / 2;
          }
        }
        rhs[i] += step;
      }
      plane[i] = here;
    }
    solvePoisson(plane, inside, rhs, width, height);
  });
}

const NEIGHBOURS = [
  [-1, 0],
  [1, 0],
  [0, -1],
  [0, 1],
] as const;

/** Longest side of the rectangle sources of a fill are looked for in, samples of its level; it is so many times as large as the area. */
const FILL_SIDE = 260;
const FILL_AROUND = 3;

/** Plans of the fills of a job, each made once for its area and its merge: what is changed below later leaves them as they are. */
export async function planFills(ctx: EngineContext, job: PreparedJob, task: Task): Promise<Map<string, FillPlan>> {
  const out = new Map<string, FillPlan>();
  for (const layer of layersOf(job.records)) {
    if (layer.content.type !== "retouch" || layer.content.method !== "fill" || !layer.visible) continue;
    const key = contentKey("fill", RETOUCH_VERSION, [maskKey(job, layer, null)]);
    const plan = await ctx.cache.takeLong(key, () => planFill(ctx, job, layer, task), bytesHeld);
    if (plan) out.set(layer.id, plan);
  }
  return out;
}

async function planFill(ctx: EngineContext, job: PreparedJob, layer: LayerRecord, task: Task): Promise<FillPlan | null> {
  const area = maskBounds(ctx, job, layer);
  if (!area) return null;
  const { width, height } = job.inputs;
  const side = Math.max(area.width, area.height) * FILL_AROUND;
  const level = Math.max(0, Math.min(job.merge.picture.spec.levels - 1, Math.ceil(Math.log2(side / FILL_SIDE))));
  const size = sizeAtLevel(width, height, level);
  const rect = atLevelOf(area, level, Math.ceil((side - Math.max(area.width, area.height)) / 2 / 2 ** level), size);
  const inside = Uint8Array.from(maskPlane(ctx, job, layer, level, rect), (v) => (v > LEAST ? 1 : 0));
  const planes = ctx.kernels.withScope((scope) => squareRootPlanes(scope, readMerge(scope, job.merge, level, rect), rect.width * rect.height));
  const field = await fillFrom(planes, inside, rect.width, rect.height, (share) => task.step(share, 1, "task.filling"));
  return { level, rect, field };
}
