import { applyAdjustment } from "../../adjustments/operations";
import type { ContentOperation } from "../tools";
import type { AdjustmentContent } from "./record";

export const adjustment: ContentOperation<AdjustmentContent> = (on, content, _layer, ground, scope) => {
  const planes = on.copy(ground.planes, scope);
  const { cache, filters } = on.ctx;
  applyAdjustment({ scope, planes, where: on.where, cache, filters }, content.adjustment, content.values);
  return { planes, alpha: on.everywhere(scope), changes: true };
};
