import type { ProposedAdjustment } from "../core/match/proposal";
import { bleedOf } from "./airEdits";
import { newId, type Edit } from "./edits";
import { withFinish } from "./finishEdits";
import { addLayer, placeBeside, placeLayer, topOfClipped } from "./layerEdits";
import { freshMask } from "./records/layerTypes";
import type { Records } from "./records/types";
import { removeLayer } from "./removal";
import { finishId, layerOf, lookId, lookOf, workingSetIdOf } from "./selectors";

/** Lays an adjustment that a match proposes on what a layer shows, over all else that is clipped to that, but for the plate's light, which a lens lays over all of it. */
export function layMatch(layerId: string, { adjustment, values }: ProposedAdjustment, name: string): Edit {
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

/** The job without its look. */
export const withoutLook: Edit = (records) => {
  const look = lookOf(records);
  return look ? removeLayer(look.id)(records) : records;
};

/** Lays what a match with a reference proposes over all that is there, the finish too, in a group of its own, instead of what was matched before. @param names of the layers, bottom first */
export function layPictureMatch(adjustments: readonly ProposedAdjustment[], names: readonly string[], name: string, strength: number): Edit {
  return (records) => {
    const id = lookId(workingSetIdOf(records));
    const parentId = finishId(workingSetIdOf(records));
    const group = addLayer({ id, parentId, name, content: { type: "group", through: true }, opacity: strength })(withFinish(withoutLook(records)));
    return adjustments.reduce(
      (r, { adjustment, values }, i) =>
        addLayer({ id: newId("layer"), parentId: id, name: names[i], content: { type: "adjustment", adjustment, values }, mask: freshMask(1) })(r),
      group,
    );
  };
}

/** Whether two states of a job differ in nothing but their look: what was found of the one holds of the other. */
export function sameWithoutLook(a: Records, b: Records): boolean {
  const [p, q] = [withoutLook(a), withoutLook(b)];
  const ids = Object.keys(p);
  return ids.length === Object.keys(q).length && ids.every((id) => p[id] === q[id]);
}
