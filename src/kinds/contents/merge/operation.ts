import { readMerge } from "../../../engine/operations/merge/readLayer";
import type { ContentOperation } from "../tools";
import type { MergeContent } from "./record";

export const merge: ContentOperation<MergeContent> = (on, _content, _layer, _backdrop, scope) => ({
  planes: readMerge(scope, on.job.merge, on.where.level, on.where.rect),
  alpha: on.everywhere(scope),
  changes: false,
});
