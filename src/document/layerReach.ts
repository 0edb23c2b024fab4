import { valuesOf } from "../core/adjust/adjustments";
import { adjustmentReach } from "../core/adjust/spatial";
import { blurReach } from "../core/raster/blur";
import { allParts } from "./records/layerTypes";
import type { Records } from "./records/types";
import { layersOf } from "./selectors";

/** Samples around a rectangle that the layers of a job look at, at a display level. */
export function stackReach(records: Records, level: number): number {
  return layersOf(records).reduce((sum, { visible, content }) => {
    if (!visible || content.type !== "adjustment") return sum;
    return sum + adjustmentReach(content.adjustment, valuesOf(content.adjustment, content.values), level);
  }, 0);
}

/** Px around a stroke that change with it: what masks blur and follow, and what layers above look at. */
export function strokeReach(records: Records): number {
  const masks = layersOf(records).map(({ mask }) => {
    const within = allParts(mask.parts).map(({ part }) =>
      part.kind === "soften" ? blurReach(part.sigmaPx) : part.kind === "group" ? blurReach(part.featherPx) : 0,
    );
    return within.reduce((sum, px) => sum + px, blurReach(mask.featherPx) + 2 * Math.round(mask.refinePx));
  });
  return Math.max(0, ...masks) + stackReach(records, 0);
}
