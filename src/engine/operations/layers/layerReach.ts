import { blurReach } from "../../../core/raster/blur";
import type { LayerRecord } from "../../../document/records/layerTypes";
import type { Records } from "../../../document/records/types";
import { childrenOf, layersOf } from "../../../document/selectors";
import { recordOf } from "../../../kinds/contents/records";

/** Samples around a rectangle that layers of a job look at, at a display level. @param only some of those in no group, with what they hold */
export function stackReach(records: Records, level: number, only: LayerRecord[] | null = null): number {
  const layers = only ? only.flatMap((l) => [l, ...within(records, l.id)]) : layersOf(records);
  return layers.reduce((sum, { visible, content, seamPx }) => {
    if (!visible) return sum;
    return sum + (recordOf(content).reach?.(content, level) ?? blurReach(seamPx / 2 ** level));
  }, 0);
}

/** Rows of a strip of a picture that is made strip by strip: more where layers look far around, since each is laid higher by as much. */
export const stripRows = (records: Records, level: number): number => (stackReach(records, level) > FAR ? 512 : 128);
const FAR = 24;

const within = (records: Records, id: string): LayerRecord[] => childrenOf(records, id).flatMap((l) => [l, ...within(records, l.id)]);
