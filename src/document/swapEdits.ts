import { message, type Message } from "../messages/message";
import type { Rectangle } from "../core/geometry/rectangle";
import { wholeFrame, type FrameContent } from "../kinds/contents/frame/record";
import type { Cells } from "../kinds/maskParts/cells/record";
import { newId, put, updateRecord, without, type Edit } from "./edits";
import { removeLayer } from "./removal";
import { addLayer, paintedMask, placeLayer } from "./layerEdits";
import { freshMask, type LayerRecord } from "./records/layerTypes";
import type { PartLook, SwapRecord } from "./records/swapTypes";
import type { Records } from "./records/types";
import { childrenOf, frameNumber, layerOf, swapsOf, workingSetIdOf } from "./selectors";

export const addSwap =
  (swap: Pick<SwapRecord, "id" | "name" | "box" | "looks">): Edit =>
  (records) => {
    const index = 1 + swapsOf(records).reduce((top, s) => Math.max(top, s.index), 0);
    return put(records, { ...swap, kind: "swap", index, setId: workingSetIdOf(records), joint: null, layerId: null });
  };

export const updateSwap = (id: string, change: Partial<Pick<SwapRecord, "name" | "joint" | "looks" | "box">>): Edit => updateRecord<SwapRecord>(id, change);

/** A part goes with the layer that shows it. */
export function removeSwap(id: string): Edit {
  return (records) => {
    const swap = records[id];
    return swap?.kind === "swap" ? without(leavePart(id)(records), [id]) : records;
  };
}

/** The layer that shows a part from another frame, or undefined. */
export const layerOfSwap = (records: Records, { layerId }: SwapRecord): LayerRecord | undefined => (layerId === null ? undefined : layerOf(records, layerId));

/** The frame that a part is taken from; null: it is left as it is. */
export function takenFrom(records: Records, swap: SwapRecord): string | null {
  const content = layerOfSwap(records, swap)?.content;
  return content?.type === "frame" ? content.frameId : null;
}

/** A part is left as it is. */
export function leavePart(id: string): Edit {
  return (records) => {
    const swap = records[id];
    if (swap?.kind !== "swap" || swap.layerId === null) return records;
    return updateRecord<SwapRecord>(id, { layerId: null })(removeLayer(swap.layerId)(records));
  };
}

/** Width over which coarse light is mixed across the border of a part, cells. Common practice, no source. */
const SEAM_CELLS = 3;

/** The layer that a part taken from a frame is to be, all of the frame shown, with those of other parts below all else. */
export function beginPart(swap: SwapRecord, frameId: string): { layerId: string; edit: Edit } {
  const layerId = swap.layerId ?? newId("layer");
  return {
    layerId,
    edit: (records) => {
      const old = layerOf(records, layerId);
      const content = wholeFrame(frameId);
      if (old) return put(records, { ...old, content, mask: freshMask(1), visible: true });
      const parts = swapsOf(records).map((s) => s.layerId);
      const below = childrenOf(records, null).findLast((l) => parts.includes(l.id));
      const name = `${swap.name}: frame ${frameNumber(records, frameId)}`;
      return placeLayer(layerId, below?.id ?? null, null)(addLayer({ id: layerId, name, content })(records));
    },
  };
}

/** Takes a part from a frame, as it was fitted and joined; the layer can be painted on like any other, and keeps what was. */
export function takePart(id: string, frameId: string, content: FrameContent, cells: Cells): Edit {
  return (records) => {
    const swap = records[id];
    if (swap?.kind !== "swap") return records;
    const { layerId, edit } = beginPart(swap, frameId);
    const painted = layerOf(records, layerId)?.mask.parts.filter((p) => p.kind !== "cells") ?? paintedMask(0).parts;
    const begun = edit(records);
    const layer = layerOf(begun, layerId)!;
    const part = { id: newId("part"), combine: "add" as const, inverted: false, featherPx: cells.cellPx, ...cells };
    const mask = freshMask(0, [part, ...painted]);
    const name = `${swap.name}: frame ${frameNumber(records, frameId)}`;
    return updateRecord<SwapRecord>(id, { layerId })(put(begun, { ...layer, name, content, mask, seamPx: SEAM_CELLS * cells.cellPx }));
  };
}

/** By how much more detail one frame has to have for it to be named the sharper. Common practice, no source. */
const CLEARLY = 1.08;
/** A part that differs more from what most frames show is in the way, or in motion. Common practice, no source. */
const MOSTLY_OTHER = 0.5;

/** The frames of a part, the best first, and why that is the best: the sharpest of those that are not clipped more than need be. */
export function rankedLooks(records: Records, { looks }: SwapRecord): { order: PartLook[]; reason: Message } {
  const known = looks.filter((l) => records[l.frameId]?.kind === "frame" && l.found !== null);
  const least = Math.min(...known.map((l) => l.clipped));
  const worth = (l: PartLook) => l.sharpness * (l.clipped > least + 0.02 ? 0.5 : 1) * (l.covered > MOSTLY_OTHER ? 0.8 : 1);
  const order = [...known].sort((a, b) => worth(b) - worth(a));
  const [best, second] = order;
  if (!best) return { order, reason: message("swap.notFound", {}) };
  const number = frameNumber(records, best.frameId);
  if (!second) return { order, reason: message("swap.onlyFrame", { number }) };
  const other = frameNumber(records, second.frameId);
  const more = best.sharpness / Math.max(1e-6, second.sharpness);
  if (more < 1) return { order, reason: message("swap.lessClipped", { number, other, percent: 100 * second.clipped }) };
  if (more < CLEARLY) return { order, reason: message("swap.asSharp", { number, other }) };
  return { order, reason: message("swap.sharpest", { number, other, percent: 100 * (more - 1) }) };
}

/** Shortest side of a box, px. */
export const LEAST_BOX = 16;

/** A box that lies in the picture and is no smaller than can be looked at. */
export function soundBox({ x, y, width, height }: Rectangle, size: { width: number; height: number }): Rectangle | null {
  const [x0, y0] = [Math.max(0, Math.round(x)), Math.max(0, Math.round(y))];
  const box = { x: x0, y: y0, width: Math.min(size.width, Math.round(x + width)) - x0, height: Math.min(size.height, Math.round(y + height)) - y0 };
  return box.width >= LEAST_BOX && box.height >= LEAST_BOX ? box : null;
}
