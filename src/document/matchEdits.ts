import type { ProposedAdjustment } from "../core/match/proposal";
import type { Adjustment } from "../kinds/adjustments/records";
import { bleedOf } from "./airEdits";
import { newId, type Edit } from "./edits";
import { withFinish } from "./finishEdits";
import { addLayer, placeBeside, placeLayer, topOfClipped } from "./layerEdits";
import { freshMask, type LayerRecord } from "./records/layerTypes";
import type { Records } from "./records/types";
import { removeLayer } from "./removal";
import { childrenOf, finishId, layerOf, lookId, lookOf, mendedId, workingSetIdOf } from "./selectors";

/** Lays an adjustment that a match proposes on what a layer shows, over all else that is clipped to that, but for the plate's light, which a lens lays over all of it. @param like how else it is laid */
export function layMatch(
  layerId: string,
  { adjustment, values }: Correction,
  name: string,
  like: Partial<Pick<LayerRecord, "opacity" | "mode" | "blendIn">> = {},
): Edit {
  return (records) => {
    const layer = layerOf(records, layerId);
    if (!layer) return records;
    const id = newId("layer");
    const content = { type: "adjustment" as const, adjustment, values };
    const laid = addLayer({ ...like, id, name, content, clipped: true, mask: freshMask(1), parentId: layer.parentId })(records);
    const over = bleedOf(laid, layerId);
    return over ? placeBeside(id, over.id, "below")(laid) : placeLayer(id, topOfClipped(laid, layerId, id), layer.parentId)(laid);
  };
}

/** An adjustment with its values. */
interface Correction {
  adjustment: Adjustment;
  values: Record<string, number>;
}

/** What is laid on all of what a layer shows and on that alone, bottom first: its adjustments that no mask keeps to a place. */
export function correctionsOf(records: Records, layerId: string): LayerRecord[] {
  const siblings = childrenOf(records, layerOf(records, layerId)?.parentId ?? null);
  const clipped: LayerRecord[] = [];
  for (let at = siblings.findIndex((l) => l.id === layerId) + 1; at > 0 && siblings[at]?.clipped; at++) clipped.push(siblings[at]);
  return clipped.filter(({ content, mask, visible }) => visible && content.type === "adjustment" && mask.base === 1 && mask.parts.length === 0);
}

/** Lays the corrections of one thing on another too, in their order, over what lies on that. */
export function takeOver(fromId: string, toId: string): Edit {
  return (records) => {
    const [from, to] = [layerOf(records, fromId), layerOf(records, toId)];
    if (!from || !to || fromId === toId) return records;
    return correctionsOf(records, fromId).reduce(
      (r, { content, name, opacity, mode, blendIn }) =>
        content.type === "adjustment" ? layMatch(toId, content, name.replaceAll(from.name, to.name), { opacity, mode, blendIn })(r) : r,
      records,
    );
  };
}

/** The job without its look. */
export const withoutLook: Edit = (records) => {
  const look = lookOf(records);
  return look ? removeLayer(look.id)(records) : records;
};

/** Lays what a match with a reference proposes over all that is there, the finish too, in a group of its own under what mends single places, instead of what was matched before. @param names of the layers, bottom first */
export function layPictureMatch(adjustments: readonly ProposedAdjustment[], names: readonly string[], name: string, strength: number): Edit {
  return (records) => {
    const id = lookId(workingSetIdOf(records));
    const parentId = finishId(workingSetIdOf(records));
    const laid = addLayer({ id, parentId, name, content: { type: "group", through: true }, opacity: strength })(withFinish(withoutLook(records)));
    const mended = mendedId(workingSetIdOf(records));
    const group = layerOf(laid, mended) ? placeBeside(id, mended, "below")(laid) : laid;
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
