import type { ContentOperation } from "../tools";
import type { BelowContent } from "./record";

export const below: ContentOperation<BelowContent> = (on, _content, _layer, backdrop, scope) => ({
  planes: on.own(backdrop, scope),
  alpha: on.everywhere(scope),
  changes: true,
});
