import { findInMerge, foundMask } from "../../../engine/operations/masks/foundMask";
import type { PartOperation } from "../tools";
import type { FoundArea } from "./record";

export const found: PartOperation<FoundArea> = {
  shape: (on, part, rect) => foundMask(findInMerge(on.ctx, on.job, part), on.level, rect, on.logLight(null, rect)),
};
