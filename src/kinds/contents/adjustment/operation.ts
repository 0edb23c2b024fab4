import { applyAdjustment } from "../../adjustments/operations";
import { mergeKind } from "../../merges/records";
import type { ContentOperation } from "../tools";
import type { AdjustmentContent } from "./record";

export const adjustment: ContentOperation<AdjustmentContent> = (on, content, layer, backdrop, scope) => {
  const planes = on.own(backdrop, scope);
  const { cache, filters } = on.ctx;
  const { method, prepared } = on.job;
  const site = { scope, planes, where: on.where, cache, filters, isSceneLight: mergeKind(method).givesSceneLight ?? false, prepared: prepared.get(layer.id) };
  applyAdjustment(site, content.adjustment, content.values);
  return { planes, alpha: on.everywhere(scope, backdrop), changes: true };
};
