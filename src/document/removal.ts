import { dropResults, put, without, type Edit } from "./edits";
import type { LayerRecord } from "./records/layerTypes";
import { childrenOf } from "./selectors";

/** Whether a layer shows where another one's shadow falls, its mirror image, or light on it. */
export const followsSeat = ({ mask, content }: LayerRecord, layerId: string): boolean =>
  mask.parts.some((p) => p.kind === "cast" && p.layerId === layerId && p.combine !== "subtract") ||
  ((content.type === "reflection" || content.type === "lampLight" || content.type === "relight" || content.type === "bleed") && content.layerId === layerId);

/** A layer goes with its strokes, its seat, the shadow and the mirror image that it throws and, where it is a group, with what it holds. */
export function removeLayer(layerId: string): Edit {
  return (records) => {
    const own = Object.values(records).filter((r) => (r.kind === "stroke" || r.kind === "seat") && r.layerId === layerId);
    // of any set, for frames are removed from all
    const shadows = Object.values(records).filter((r): r is LayerRecord => r.kind === "layer" && r.id !== layerId && followsSeat(r, layerId));
    const others = [...childrenOf(records, layerId), ...shadows];
    // it goes first, so that two that name each other end
    const left = without(records, [layerId, ...own.map((r) => r.id)]);
    return others.reduce((r, other) => removeLayer(other.id)(r), left);
  };
}

/** Whether a layer shows a frame, or its sky, or is laid by what that shows. */
const shows = ({ content }: LayerRecord, frameId: string): boolean =>
  (content.type === "frame" && content.frameId === frameId) || (content.type === "otherSky" && (content.frameId === frameId || content.landId === frameId));

/** A frame goes with the layers that show it and their strokes, its cards, and the pins whose likes it shows. */
export function removeFrame(frameId: string): Edit {
  return (records) => {
    const frame = records[frameId];
    if (frame?.kind !== "frame") return records;
    const layers = Object.values(records).filter((l) => l.kind === "layer" && shows(l, frameId));
    const rest = layers.reduce((r, l) => removeLayer(l.id)(r), dropResults(records, frame.setId));
    const helped = Object.values(rest).flatMap((l) => (l.kind === "layer" ? withoutHelp(l, frameId) : []));
    const pins = Object.values(rest).flatMap((p) => (p.kind === "pin" && p.frameId === frameId ? [p.id] : []));
    return without(put(rest, ...helped), [frameId, ...pins]);
  };
}

/** A layer that a frame helped to cut or to light, without it; none where it did not. */
function withoutHelp(layer: LayerRecord, frameId: string): LayerRecord[] {
  const { content } = layer;
  if (content.type !== "frame") return [];
  const { cut, light } = content;
  if (cut?.plateId !== frameId && light?.ambientId !== frameId) return [];
  // by the box again, where one was drawn; else all of the frame is shown until one is
  const boxed = cut?.plateId === frameId ? { ...cut, by: "box" as const, plateId: null, plateMatrix: null } : cut;
  return [{ ...layer, content: { ...content, cut: boxed, light: light?.ambientId === frameId ? { ...light, ambientId: null } : light } }];
}
