import { layerOf } from "../../../document/selectors";
import type { PartOperation } from "../tools";
import type { Link } from "./record";

export const link: PartOperation<Link> = {
  shape: (on, { layerId }, rect) => {
    const other = layerOf(on.job.records, layerId);
    return other ? on.mask(other, rect) : new Float32Array(rect.width * rect.height);
  },
};
