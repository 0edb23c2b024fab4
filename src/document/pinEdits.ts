import { newId, type Edit } from "./edits";
import { withFinish } from "./finishEdits";
import { addLayer } from "./layerEdits";
import { freshMask } from "./records/layerTypes";
import type { PinRecord } from "./records/types";
import { finishId, layerOf, mendedId, workingSetIdOf } from "./selectors";

/** How far from neutral a neutral may be until more is said, ΔE. Common practice, no source. */
export const MAY_BE = 2;

/** An adjustment that mends a cast where it is, with its values, and how near to the pin's the colours of the thing there lie, ΔE. */
export interface MendWay {
  adjustment: "whiteBalance" | "chroma";
  values: Record<string, number>;
  tolerance: number;
}

/** The part of a mask that follows the thing a pin points at, up to its edges. */
export const aroundPin = ({ x, y }: PinRecord, tolerance: number) => ({ kind: "found" as const, what: "near" as const, x0: x, y0: y, x1: x, y1: y, tolerance });

/**
 * Mends a cast where a pin says that there is none: an adjustment along the thing there, up to its edges. It lies over the finish and its look, in a group, so that no step of the finish
 * is taken for it. @param names of the layer and of the group @param id of the layer
 */
export function mendPin(pin: PinRecord, { adjustment, values, tolerance }: MendWay, names: { layer: string; group: string }, id = newId("layer")): Edit {
  return (records) => {
    const setId = workingSetIdOf(records);
    const [finish, parentId] = [withFinish(records), mendedId(setId)];
    const group = addLayer({ id: parentId, parentId: finishId(setId), name: names.group, content: { type: "group", through: true } });
    const mask = freshMask(0, [{ id: newId("part"), combine: "add", inverted: false, featherPx: 0, ...aroundPin(pin, tolerance) }]);
    const grouped = layerOf(finish, parentId) ? finish : group(finish);
    return addLayer({ id, name: names.layer, parentId, content: { type: "adjustment", adjustment, values }, mask })(grouped);
  };
}
