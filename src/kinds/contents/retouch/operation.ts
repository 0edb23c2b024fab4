import { retouched } from "../../../engine/operations/retouch/retouch";
import type { ContentOperation } from "../tools";
import type { RetouchContent } from "./record";

/** Mends what lies below a layer, which is read wherever it is taken from. */
export const retouch: ContentOperation<RetouchContent> = (on, content, layer, ground, scope) => {
  const planes = on.copy(ground.planes, scope);
  const { layers, read } = on.below(layer);
  retouched(on.ctx, on.job, layer, content, { level: on.where.level, rect: on.where.rect, below: layers }, planes, read);
  return { planes, alpha: on.everywhere(scope), changes: true };
};
