import type { Edit } from "./edits";
import { newId } from "./edits";
import { withFinish } from "./finishEdits";
import { addLayer, type NewLayer } from "./layerEdits";
import { freshMask } from "./records/layerTypes";
import type { PinRecord, Records } from "./records/types";
import { finishId, workingSetIdOf } from "./selectors";

/** How far from neutral a neutral may be until more is said, ΔE. Common practice, no source. */
export const MAY_BE = 2;

/** Ways to mend a cast where it is. */
export type MendAdjustment = "whiteBalance" | "chroma";

/** Colours that lie that near to a place belong to the thing there, ΔE. Common practice, no source. */
const TOLERANCE = 6;

/** An adjustment along the thing that a pin points at, up to its edges, on top of all. */
export function mendLayer(records: Records, pin: PinRecord, way: { adjustment: MendAdjustment; values: Record<string, number> }, name: string): NewLayer {
  const around = { kind: "found" as const, what: "near" as const, x0: pin.x, y0: pin.y, x1: pin.x, y1: pin.y, tolerance: TOLERANCE };
  const part = { id: newId("part"), combine: "add" as const, inverted: false, featherPx: 0, ...around };
  return { name, parentId: finishId(workingSetIdOf(records)), content: { type: "adjustment", ...way }, mask: freshMask(0, [part]) };
}

/** Mends a cast where a pin says that there is none. */
export const mendPin =
  (pin: PinRecord, way: { adjustment: MendAdjustment; values: Record<string, number> }, name: string): Edit =>
  (records) => {
    const finish = withFinish(records);
    return addLayer({ id: newId("layer"), ...mendLayer(finish, pin, way, name) })(finish);
  };
