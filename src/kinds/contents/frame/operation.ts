import { defocusReach, discBlur, lineBlur, type Defocus } from "../../../core/air/defocus";
import { cutOut as cutPart } from "../../../core/raster/planeParts";
import { atLevel, project, type Matrix3 } from "../../../core/geometry/matrix3";
import { sizeAtLevel, type Rectangle } from "../../../core/geometry/rectangle";
import { exp2 } from "../../../core/numeric/elementary";
import { evBetween, leaveLight } from "../../../engine/operations/layers/frameLight";
import { levelAt, ownLevel, shownBy, toOwnPlace } from "../../../engine/operations/layers/frameLayers";
import type { StackSite } from "../../../engine/operations/layers/StackSite";
import { allocatePlanes, each, type Planes } from "../../../engine/operations/frames/frameSamples";
import { resample, resampleInto } from "../../../engine/operations/frames/resample";
import type { Cutter } from "../../../engine/operations/matte/Cutter";
import { eachInFront } from "../../../engine/operations/matte/LevelMatte";
import { readLayer, type ShownFrame } from "../../../engine/operations/merge/readLayer";
import type { Scope } from "../../../kernels/Kernels";
import type { ContentOperation } from "../tools";
import type { FrameContent, Moved } from "./record";

export const frame: ContentOperation<FrameContent> = (on, content, layer, _backdrop, scope) => {
  const { input, shown, moved } = shownBy(on.job, content);
  if (!shown) return null;
  const { level, rect } = on.where;
  const alpha = on.everywhere(scope);
  // a frame of a panorama is nothing where it does not look
  if (input?.projected) on.ctx.kernels.f32(alpha, on.n).set(input.projected.coverage(level, rect));
  const cutter = on.job.cutouts.get(layer.id);
  const top = cutter
    ? cutOut(on, shown, cutter, content, moved, alpha, scope)
    : {
        planes: moved ? movedFrame(on, shown, content.exposureEv, moved, alpha, scope) : readLayer(scope, shown, level, rect, content.exposureEv),
        alpha,
        changes: false,
      };
  if (top && content.light) leaveLight(on.ctx, top.planes, on.n, content.light, exp2(content.exposureEv), ambientOf(on, content, moved, scope), scope);
  return top;
};

/** The frame without what shines, as bright as the layer's own and where that lies. */
function ambientOf(on: StackSite, { frameId, light }: FrameContent, moved: Moved | null, scope: Scope): Planes | null {
  const other = light?.ambientId ?? null;
  const shown = other === null ? undefined : (on.job.inputs.frames.find((f) => f.frame.id === other) ?? on.job.pictures.get(other));
  if (!shown || other === null) return null;
  const { level, rect } = on.where;
  const ev = evBetween(on.job, frameId, other);
  return moved ? movedFrame(on, shown, ev, moved, on.everywhere(scope), scope) : readLayer(scope, shown, level, rect, ev);
}

/** A frame put elsewhere; where it does not lie there is nothing. It is read at the level that comes nearest to the scale it is shown at. */
function movedFrame(on: StackSite, shown: ShownFrame, exposureEv: number, moved: Moved, alpha: number, scope: Scope): Planes {
  const { level, rect } = on.where;
  const { spec } = shown.file;
  const toOwn = toOwnPlace(moved, on.where, shown);
  const middle = [rect.x + rect.width / 2, rect.y + rect.height / 2].map((v) => v * 2 ** level);
  const own = levelAt(toOwn, middle, level, spec.levels);
  const matrix = atLevel(toOwn, level, own);
  const bounds = sizeAtLevel(spec.width, spec.height, own);
  const covers = on.ctx.kernels.f32(alpha, on.n);
  covers.forEach((_, i) => {
    const [x, y] = project(matrix, rect.x + (i % rect.width), rect.y + Math.floor(i / rect.width));
    if (!(x >= -0.5 && y >= -0.5 && x <= bounds.width - 0.5 && y <= bounds.height - 0.5)) covers[i] = 0;
  });
  return resample(scope, matrix, rect, bounds, (window) => readLayer(scope, shown, own, window, exposureEv));
}

/** What is cut out of a frame, where it lies; nothing where nothing can be told apart. @param alpha where the frame shows anything */
function cutOut(on: StackSite, shown: ShownFrame, cutter: Cutter, content: FrameContent, moved: Moved | null, alpha: number, scope: Scope) {
  const { kernels } = on.ctx;
  const { level, rect } = on.where;
  const own = ownLevel(on.job, content, level);
  if (!cutter.shownAt(own)) return null;
  const covers = kernels.f32(alpha, on.n);
  if (!moved) {
    const { planes, inFront } = readCut(on, shown, cutter, own, rect, content.exposureEv, scope);
    covers.forEach((v, i) => (covers[i] = v * inFront[i]));
    return { planes, alpha, changes: false };
  }
  const planes = allocatePlanes(scope, on.n);
  const toOwn = toOwnPlace(moved, on.where, shown);
  if (content.defocus)
    readBlurred(
      on,
      content.defocus,
      [...each(planes), alpha],
      (wide, out) => readCutThrough(on, shown, cutter, own, toOwn, wide, content.exposureEv, out, scope),
      scope,
    );
  else readCutThrough(on, shown, cutter, own, toOwn, rect, content.exposureEv, [...each(planes), alpha], scope);
  const views = each(planes).map((at) => kernels.f32(at, on.n));
  for (let i = 0; i < on.n; i++) {
    const a = Math.min(1, Math.max(0, covers[i]));
    covers[i] = a < LEAST ? 0 : a;
    for (const view of views) view[i] = a < LEAST ? 0 : view[i] / a;
  }
  return { planes, alpha, changes: false };
}

/**
 * What is cut out of a frame as it is seen through a map: its colours multiplied by alpha, so that what lies behind an edge does not come along, and alpha.
 * @param own level of the frame @param toOwn px of the picture → px of the frame @param out planes of the rectangle's size, alpha last
 */
export function readCutThrough(
  on: Pick<StackSite, "ctx" | "where">,
  shown: ShownFrame,
  cutter: Cutter,
  own: number,
  toOwn: Matrix3,
  rect: Rectangle,
  exposureEv: number,
  out: number[],
  scope: Scope,
): void {
  const { kernels } = on.ctx;
  const { spec } = shown.file;
  resampleInto(scope, atLevel(toOwn, on.where.level, own), rect, sizeAtLevel(spec.width, spec.height, own), out, (window) => {
    const cut = readCut(on, shown, cutter, own, window, exposureEv, scope);
    const n = window.width * window.height;
    const plane = scope.floats(Math.ceil(n / 8) * 8 + 16);
    kernels.f32(plane, n).set(cut.inFront);
    for (const at of each(cut.planes)) kernels.run("multiplySamples", [at, plane], 0, cut.planes.length, 65536);
    return [...each(cut.planes), plane];
  });
}

/** What is cut out, out of focus and moved: read as far around as that reaches. Light multiplied by alpha, and alpha, are spread alike. @param out planes of the rectangle's size */
function readBlurred(on: StackSite, defocus: Defocus, out: number[], read: (wide: Rectangle, out: number[]) => void, scope: Scope): void {
  const { kernels } = on.ctx;
  const { level, rect } = on.where;
  const reach = defocusReach(defocus, level);
  const wide: Rectangle = { x: rect.x - reach, y: rect.y - reach, width: rect.width + 2 * reach, height: rect.height + 2 * reach };
  const m = wide.width * wide.height;
  const spread = out.map(() => scope.floats(Math.ceil(m / 8) * 8 + 16));
  read(wide, spread);
  spread.forEach((at, c) => {
    const plane = kernels.f32(at, m);
    discBlur(plane, wide.width, wide.height, defocus.radiusPx / 2 ** level);
    lineBlur(plane, wide.width, wide.height, defocus.motionPx / 2 ** level, defocus.motionDeg);
    kernels.f32(out[c], on.n).set(cutPart(plane, wide, rect));
  });
}

/** Less in front is nothing. */
const LEAST = 1e-4;

/** Colours in front and alpha of a rectangle of a level of the frame itself. */
function readCut(on: Pick<StackSite, "ctx">, shown: ShownFrame, cutter: Cutter, level: number, rect: Rectangle, exposureEv: number, scope: Scope) {
  const planes = readLayer(scope, shown, level, rect, exposureEv);
  const n = rect.width * rect.height;
  const views = each(planes).map((at) => on.ctx.kernels.f32(at, n));
  const inFront = new Float32Array(n);
  const matte = cutter.at(level);
  const gain = exp2(exposureEv);
  eachInFront(matte, rect, (i, alpha, k) => {
    inFront[i] = alpha;
    if (k >= 0) for (let c = 0; c < 3; c++) views[c][i] = gain * matte.front[3 * k + c];
  });
  return { planes, inFront };
}
