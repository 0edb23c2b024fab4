import type { ContentOperation } from "../tools";
import type { BelowContent } from "./record";

export const below: ContentOperation<BelowContent> = (on, _content, _layer, ground, scope) => ({
  planes: on.own(ground, scope),
  alpha: on.everywhere(scope),
  changes: true,
});
