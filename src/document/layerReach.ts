import { valuesOf } from "../core/adjust/adjustments";
import { adjustmentReach } from "../core/adjust/spatial";
import { blurReach } from "../core/raster/blur";
import { allParts, type LayerRecord } from "./records/layerTypes";
import type { Records } from "./records/types";
import { childrenOf, layersOf } from "./selectors";

/** Samples around a rectangle that layers of a job look at, at a display level. @param only some of those in no group, with what they hold */
export function stackReach(records: Records, level: number, only: LayerRecord[] | null = null): number {
  const layers = only ? only.flatMap((l) => [l, ...within(records, l.id)]) : layersOf(records);
  return layers.reduce((sum, { visible, content, seamPx }) => {
    if (!visible) return sum;
    if (content.type !== "adjustment") return sum + blurReach(seamPx / 2 ** level);
    return sum + adjustmentReach(content.adjustment, valuesOf(content.adjustment, content.values), level);
  }, 0);
}

/** Rows of a strip of a picture that is made strip by strip: more where layers look far around, since each is laid higher by as much. */
export const stripRows = (records: Records, level: number): number => (stackReach(records, level) > FAR ? 512 : 128);
const FAR = 24;

const within = (records: Records, id: string): LayerRecord[] => childrenOf(records, id).flatMap((l) => [l, ...within(records, l.id)]);

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
