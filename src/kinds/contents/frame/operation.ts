import { atLevel, invert, project } from "../../../core/geometry/matrix3";
import { sizeAtLevel } from "../../../core/geometry/rectangle";
import { movedMatrix } from "../../../document/outputGeometry";
import type { StackSite } from "../../../engine/operations/layers/StackSite";
import type { Planes } from "../../../engine/operations/frames/frameSamples";
import { resample } from "../../../engine/operations/frames/resample";
import { readLayer, type ShownFrame } from "../../../engine/operations/merge/readLayer";
import type { Scope } from "../../../kernels/Kernels";
import type { ContentOperation } from "../tools";
import { UNMOVED, type FrameContent, type Moved } from "./record";

export const frame: ContentOperation<FrameContent> = (on, content, _layer, _backdrop, scope) => {
  const input = on.job.inputs.frames.find((f) => f.frame.id === content.frameId);
  const shown = input ?? on.job.pictures.get(content.frameId);
  if (!shown) return null;
  const { level, rect } = on.where;
  const alpha = on.everywhere(scope);
  // a frame of a panorama is nothing where it does not look
  if (input?.projected) on.ctx.kernels.f32(alpha, on.n).set(input.projected.coverage(level, rect));
  const moved = content.moved ?? (input ? null : UNMOVED);
  const planes = moved ? movedFrame(on, shown, content.exposureEv, moved, alpha, scope) : readLayer(scope, shown, level, rect, content.exposureEv);
  return { planes, alpha, changes: false };
};

/** A frame put elsewhere; where it does not lie there is nothing. It is read at the level that comes nearest to the scale it is shown at. */
function movedFrame(on: StackSite, shown: ShownFrame, exposureEv: number, moved: Moved, alpha: number, scope: Scope): Planes {
  const { level, rect, width, height } = on.where;
  const { spec } = shown.file;
  const toOwn = invert(movedMatrix(moved, { width, height }, spec));
  const middle = [rect.x + rect.width / 2, rect.y + rect.height / 2].map((v) => v * 2 ** level);
  const across = project(toOwn, middle[0] + 1, middle[1]).map((v, i) => v - project(toOwn, middle[0], middle[1])[i]);
  const own = Math.max(0, Math.min(spec.levels - 1, Math.round(level + Math.log2(Math.hypot(across[0], across[1])))));
  const matrix = atLevel(toOwn, level, own);
  const bounds = sizeAtLevel(spec.width, spec.height, own);
  const covers = on.ctx.kernels.f32(alpha, on.n);
  covers.forEach((_, i) => {
    const [x, y] = project(matrix, rect.x + (i % rect.width), rect.y + Math.floor(i / rect.width));
    if (!(x >= -0.5 && y >= -0.5 && x <= bounds.width - 0.5 && y <= bounds.height - 0.5)) covers[i] = 0;
  });
  return resample(scope, matrix, rect, bounds, (window) => readLayer(scope, shown, own, window, exposureEv));
}
