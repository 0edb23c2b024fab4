import type { Defocus } from "../core/air/defocus";
import { wholeFrame } from "../kinds/contents/frame/record";
import { newId, put, updateRecord, without, type Edit } from "./edits";
import { freshMask, type LayerRecord, type MaskGroup } from "./records/layerTypes";
import type { LayerContent } from "../kinds/contents/records";
import { allParts, isPainted, type MaskPart, type PartShape } from "../kinds/maskParts/records";
import type { Records, StrokeRecord } from "./records/types";
import { childrenOf, isFinish, layersOf, layerOf, strokesOf, workingSetIdOf } from "./selectors";

export type NewLayer = Partial<Omit<LayerRecord, "kind" | "index" | "setId">> & { name: string; content: LayerContent };

/** Lays something on top of the others of its group. Nothing said: normal, shown, all revealed. */
export function addLayer(layer: NewLayer): Edit {
  return (records) => put(records, { ...freshLayer(records), ...layer });
}

/** A mask of one painted part on a base. */
export function paintedMask(base: 0 | 1, partId = newId("part")): MaskGroup {
  return freshMask(base, [{ id: partId, combine: "add", inverted: false, featherPx: 0, kind: "painted" }]);
}

function freshLayer(records: Records): Omit<LayerRecord, "name" | "content"> {
  return {
    kind: "layer",
    id: newId("layer"),
    index: topIndex(records) + 1,
    setId: workingSetIdOf(records),
    parentId: null,
    note: "",
    opacity: 1,
    mode: "normal",
    blendIn: "encoded",
    visible: true,
    locked: false,
    clipped: false,
    seamPx: 0,
    mask: freshMask(1),
  };
}

const topIndex = (records: Records) => layersOf(records).reduce((top, l) => Math.max(top, l.index), 0);

export const updateLayer = (id: string, change: Partial<LayerRecord>): Edit => updateRecord<LayerRecord>(id, change);

export function updateMask(id: string, change: Partial<MaskGroup>): Edit {
  return (records) => {
    const layer = layerOf(records, id);
    return layer ? updateLayer(id, { mask: { ...layer.mask, ...change } })(records) : records;
  };
}

/** A mask that reveals all, where nothing was painted on the layer's and nothing else is in it. */
export const revealedIfUntouched = (records: Records, { id, mask }: LayerRecord): { mask?: MaskGroup } =>
  strokesOf(records, id).length === 0 && mask.parts.every(isPainted) ? { mask: paintedMask(1) } : {};

/** Puts a layer one place up or down among those of its group. */
export function moveLayer(id: string, by: 1 | -1): Edit {
  return (records) => {
    const layer = layerOf(records, id);
    if (!layer || isFinish(layer)) return records;
    const siblings = childrenOf(records, layer.parentId).filter((l) => !isFinish(l));
    const other = siblings[siblings.findIndex((l) => l.id === id) + by];
    return other ? put(records, { ...layer, index: other.index }, { ...other, index: layer.index }) : records;
  };
}

/** Puts a layer right above another, into the group of that; null: to the bottom of a group. */
export function placeLayer(id: string, aboveId: string | null, parentId: string | null): Edit {
  return (records) => {
    const layer = layerOf(records, id);
    if (!layer || id === aboveId || isWithin(records, parentId, id)) return records;
    const order = childrenOf(records, parentId).filter((l) => l.id !== id);
    const at = order.findIndex((l) => l.id === aboveId) + 1;
    order.splice(at, 0, { ...layer, parentId });
    const base = topIndex(records) + 1;
    // indices are taken anew, above all others, so that they stay different within the set
    return put(records, ...order.map((l, i) => ({ ...l, index: base + i })));
  };
}

/** Brings what a layer cuts out of a frame out of focus, or lets it move; null: as sharp as it was taken. */
export function blurLayer(id: string, blur: Defocus | null): Edit {
  return (records) => {
    const content = layerOf(records, id)?.content;
    if (content?.type !== "frame") return records;
    const { defocus: _before, ...sharp } = content;
    const isSharp = blur === null || (blur.radiusPx === 0 && blur.motionPx === 0);
    return updateLayer(id, { content: isSharp ? sharp : { ...sharp, defocus: blur } })(records);
  };
}

/** The topmost of a layer and those that are clipped to it: what is laid over it lies over them. @param except one that is not asked about */
export function topOfClipped(records: Records, id: string, except?: string): string {
  const order = childrenOf(records, layerOf(records, id)?.parentId ?? null).filter((l) => l.id !== except);
  let at = order.findIndex((l) => l.id === id);
  while (order[at + 1]?.clipped) at++;
  return order[at]?.id ?? id;
}

/** Puts a layer right above or below another, or on top within a group; never into itself. */
export function placeBeside(id: string, otherId: string, where: "above" | "below" | "into"): Edit {
  return (records) => {
    const other = layerOf(records, otherId);
    if (!other || id === otherId) return records;
    const [parentId, at] = where === "into" ? [otherId, Infinity] : [other.parentId, where === "above" ? 0 : -1];
    const order = childrenOf(records, parentId).filter((l) => l.id !== id);
    const below = at === Infinity ? order.at(-1) : order[order.findIndex((l) => l.id === otherId) + at];
    return placeLayer(id, below?.id ?? null, parentId)(records);
  };
}

/** Whether a group lies in another, or is it. */
function isWithin(records: Records, groupId: string | null, outerId: string): boolean {
  for (let at = groupId; at; at = layerOf(records, at)?.parentId ?? null) if (at === outerId) return true;
  return false;
}

/** Puts a layer into a new group at its place. */
export function groupLayer(id: string, name: string): Edit {
  return (records) => {
    const layer = layerOf(records, id);
    if (!layer) return records;
    const group: LayerRecord = { ...freshLayer(records), name, content: { type: "group", through: false }, index: layer.index, parentId: layer.parentId };
    return put(records, group, { ...layer, parentId: group.id, clipped: false });
  };
}

/** Takes a group away and leaves its layers where it was. */
export function ungroup(id: string): Edit {
  return (records) => {
    const group = layerOf(records, id);
    if (group?.content.type !== "group") return records;
    const inside = childrenOf(records, id);
    const freed = [...inside].reverse().reduce((r, l) => placeLayer(l.id, id, group.parentId)(r), records);
    return without(freed, [id]);
  };
}

/** A second layer like the first, with its strokes and all that it holds, right above it. */
export function duplicateLayer(id: string): Edit {
  return (records) => {
    const layer = layerOf(records, id);
    if (!layer) return records;
    const { records: next, copyId } = copyInto(records, layer, layer.parentId, `${layer.name}, copy`);
    return placeLayer(copyId, id, layer.parentId)(next);
  };
}

/** A copy of a layer with its mask and what it holds, on top of a group. */
export function copyInto(records: Records, layer: LayerRecord, parentId: string | null, name: string): { records: Records; copyId: string } {
  const copyId = newId("layer");
  const { mask, strokes } = copyOfMask(records, layer, copyId);
  let next = put(records, { ...layer, id: copyId, name, parentId, index: topIndex(records) + 1, mask }, ...strokes);
  for (const child of childrenOf(records, layer.id)) next = copyInto(next, child, copyId, child.name).records;
  return { records: next, copyId };
}

/** The mask of a layer with new parts and strokes for another layer. */
function copyOfMask(records: Records, layer: LayerRecord, forId: string): { mask: MaskGroup; strokes: StrokeRecord[] } {
  const ids = new Map(allParts(layer.mask.parts).map(({ part }) => [part.id, newId("part")]));
  const renamed = (parts: MaskPart[]): MaskPart[] => parts.map((p) => ({ ...p, id: ids.get(p.id)!, ...(p.kind === "group" && { parts: renamed(p.parts) }) }));
  const parts = renamed(layer.mask.parts);
  const strokes = strokesOf(records, layer.id).flatMap((s): StrokeRecord[] => {
    const partId = ids.get(s.partId);
    return partId ? [{ ...s, id: newId("stroke"), layerId: forId, partId }] : [];
  });
  return { mask: { ...layer.mask, parts }, strokes };
}

/** Gives a layer the mask of another: as a copy, or as a link that follows it. */
export function takeMask(id: string, fromId: string, live: boolean): Edit {
  return (records) => {
    const [layer, from] = [layerOf(records, id), layerOf(records, fromId)];
    if (!layer || !from || id === fromId) return records;
    const old = strokesOf(records, id).map((s) => s.id);
    if (live) {
      const link: MaskPart = { id: newId("part"), combine: "add", inverted: false, featherPx: 0, kind: "link", layerId: fromId };
      return updateLayer(id, { mask: freshMask(0, [link]) })(without(records, old));
    }
    const { mask, strokes } = copyOfMask(records, from, id);
    return put(without(records, old), { ...layer, mask }, ...strokes);
  };
}

/** Adds a part to a mask that has none as the first thing that reveals; else as said. @param groupId a group of parts, or null @returns an edit and the id of the part */
export function addPart(
  layerId: string,
  shape: PartShape,
  combine: MaskPart["combine"] = "add",
  groupId: string | null = null,
): { edit: Edit; partId: string } {
  const partId = newId("part");
  const edit: Edit = (records) => {
    const layer = layerOf(records, layerId);
    if (!layer) return records;
    const part: MaskPart = { id: partId, combine, inverted: false, featherPx: 0, ...shape };
    const { mask } = layer;
    if (groupId) return changeParts(layerId, groupId, (p) => (p.kind === "group" ? [{ ...p, parts: [...p.parts, part] }] : [p]))(records);
    // a part that adds to all would show nothing: the first one begins from black
    const base = mask.parts.length === 0 && combine === "add" && !isPainted(shape) ? 0 : mask.base;
    return updateLayer(layerId, { mask: { ...mask, base, parts: [...mask.parts, part] } })(records);
  };
  return { edit, partId };
}

/** Puts other parts in the place of one, wherever in a mask it lies. */
function changeParts(layerId: string, partId: string, into: (part: MaskPart) => MaskPart[]): Edit {
  const within = (parts: MaskPart[]): MaskPart[] =>
    parts.flatMap((p) => (p.id === partId ? into(p) : p.kind === "group" ? [{ ...p, parts: within(p.parts) }] : [p]));
  return (records) => {
    const layer = layerOf(records, layerId);
    return layer ? updateMask(layerId, { parts: within(layer.mask.parts) })(records) : records;
  };
}

export const updatePart = (layerId: string, partId: string, change: Partial<MaskPart>): Edit =>
  changeParts(layerId, partId, (p) => [{ ...p, ...change } as MaskPart]);

/** A part goes with what it holds and with its strokes. */
export function removePart(layerId: string, partId: string): Edit {
  return (records) => {
    const part = allParts(layerOf(records, layerId)?.mask.parts ?? []).find((p) => p.part.id === partId)?.part;
    if (!part) return records;
    const gone = new Set(allParts([part]).map((p) => p.part.id));
    const strokes = strokesOf(records, layerId).filter((s) => gone.has(s.partId));
    const left = without(
      records,
      strokes.map((s) => s.id),
    );
    return changeParts(layerId, partId, () => [])(left);
  };
}

/** Puts a part earlier or later among those it lies with. */
export function movePart(layerId: string, partId: string, by: 1 | -1): Edit {
  const within = (parts: MaskPart[]): MaskPart[] => {
    const at = parts.findIndex((p) => p.id === partId);
    if (at < 0) return parts.map((p) => (p.kind === "group" ? { ...p, parts: within(p.parts) } : p));
    const moved = [...parts];
    if (moved[at + by]) [moved[at], moved[at + by]] = [moved[at + by], moved[at]];
    return moved;
  };
  return (records) => {
    const layer = layerOf(records, layerId);
    return layer ? updateMask(layerId, { parts: within(layer.mask.parts) })(records) : records;
  };
}

/** Puts a part into a new group at its place. @returns an edit and the id of the group */
export function groupPart(layerId: string, partId: string): { edit: Edit; groupId: string } {
  const groupId = newId("part");
  const edit = changeParts(layerId, partId, (p) => [
    { id: groupId, kind: "group", combine: p.combine, inverted: false, featherPx: 0, parts: [{ ...p, combine: "add" }] },
  ]);
  return { edit, groupId };
}

/** Takes a group of parts away and leaves what it holds at its place; the first of them goes with the parts before as the group did. */
export const ungroupParts = (layerId: string, partId: string): Edit =>
  changeParts(layerId, partId, (p) => (p.kind === "group" ? p.parts.map((q, i) => (i === 0 ? { ...q, combine: p.combine } : q)) : [p]));

/** Puts a part at the end of a group of the mask it is in. */
export function putIntoGroup(layerId: string, partId: string, groupId: string): Edit {
  return (records) => {
    const parts = allParts(layerOf(records, layerId)?.mask.parts ?? []);
    const part = parts.find((p) => p.part.id === partId)?.part;
    if (!part || !parts.some((p) => p.part.id === groupId) || allParts([part]).some((p) => p.part.id === groupId)) return records;
    const taken = changeParts(layerId, partId, () => [])(records);
    return changeParts(layerId, groupId, (p) => (p.kind === "group" ? [{ ...p, parts: [...p.parts, part] }] : [p]))(taken);
  };
}

/** A speck to be smoothed over, px of the picture. */
export interface Speck {
  x: number;
  y: number;
  radiusPx: number;
}

/** How much larger than a speck its dab is. */
const DAB = 1.5;

/** Smooths specks over: one layer on top, one dab for each. @returns an edit and the id of the layer */
export function laySpecks(specks: Speck[]): { edit: Edit; layerId: string } {
  const layerId = newId("layer");
  const edit: Edit = (records) => {
    const partId = newId("part");
    const content = { type: "retouch" as const, method: "smooth" as const, dx: 0, dy: 0, angleDeg: 0, scale: 1, mirrored: false };
    const laid = addLayer({ id: layerId, name: "Specks", content, mask: paintedMask(0, partId) })(records);
    const dab = { softness: 0.3, flow: 1, opacity: 1, edgeTolerance: 0, spacing: 0.08, reveal: true };
    const strokes = specks.map((s, index): StrokeRecord => {
      const placed = { kind: "stroke" as const, id: newId("stroke"), index, layerId, partId };
      return { ...placed, ...dab, diameterPx: 2 * DAB * s.radiusPx, points: [s.x, s.y, 1] };
    });
    return put(laid, ...strokes);
  };
  return { edit, layerId };
}

/** Takes a frame from a layer and gives it another. */
export function takeFrame(layerId: string, frameId: string, name: string): Edit {
  return (records) => {
    const content = layerOf(records, layerId)?.content;
    return content?.type === "frame" ? updateLayer(layerId, { content: { ...content, frameId, fit: null }, name })(records) : records;
  };
}

/** A frame to be blended by hand, and where it is to show before anything is painted. */
export interface HandFrame {
  frameId: string;
  name: string;
  shape: PartShape;
  featherPx: number;
}

/**
 * The start of blending by hand: every frame a layer over the merge, back to front in the order given, the first whole, each other under
 * a mask of its shape that can be painted on.
 */
export function layFramesByHand(frames: HandFrame[]): Edit {
  return (records) =>
    frames.reduce((r, { frameId, name, shape, featherPx }, i) => {
      const painted = paintedMask(0).parts;
      const shown: MaskPart = { id: newId("part"), combine: "add", inverted: false, featherPx, ...shape };
      const mask = i === 0 ? freshMask(1, painted) : freshMask(0, [shown, ...painted]);
      return addLayer({ name, content: wholeFrame(frameId), mask })(r);
    }, records);
}
