import type { StepProposal } from "../core/match/steps";
import { bleedOf } from "./airEdits";
import { newId, type Edit } from "./edits";
import { addLayer, placeBeside, placeLayer, topOfClipped } from "./layerEdits";
import { freshMask } from "./records/layerTypes";
import { layerOf } from "./selectors";

/** Lays an adjustment that a match proposes on what a layer shows, over all else that is clipped to that, but for the plate's light, which a lens lays over all of it. */
export function layMatch(layerId: string, { adjustment, values }: Pick<StepProposal, "adjustment" | "values">, name: string): Edit {
  return (records) => {
    const layer = layerOf(records, layerId);
    if (!layer) return records;
    const id = newId("layer");
    const laid = addLayer({ id, name, content: { type: "adjustment", adjustment, values }, clipped: true, mask: freshMask(1), parentId: layer.parentId })(
      records,
    );
    const over = bleedOf(laid, layerId);
    return over ? placeBeside(id, over.id, "below")(laid) : placeLayer(id, topOfClipped(laid, layerId, id), layer.parentId)(laid);
  };
}
