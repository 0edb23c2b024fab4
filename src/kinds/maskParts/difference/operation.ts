import { smooth } from "../../../core/masks/shapes";
import type { PartOperation } from "../tools";
import type { Difference } from "./record";

export const difference: PartOperation<Difference> = {
  shape: (on, part, rect) => {
    const [a, b] = [part.aId, part.bId].map((id) => on.logLight(id, rect, true));
    return a.map((v, i) => smooth((Math.abs(v - b[i]) - part.fromEv) / Math.max(1e-6, part.softEv) + 1));
  },
};
