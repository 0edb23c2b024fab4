import { retouched } from "../../../engine/operations/retouch/retouch";
import type { ContentOperation } from "../tools";
import type { RetouchContent } from "./record";

/** Mends what lies below a layer, which is read wherever it is taken from. */
export const retouch: ContentOperation<RetouchContent> = (on, content, layer, backdrop, scope) => {
  const planes = on.own(backdrop, scope);
  retouched(on.ctx, on.job, layer, content, on.where, planes, on.below(layer));
  return { planes, alpha: on.everywhere(scope, backdrop), changes: true };
};
