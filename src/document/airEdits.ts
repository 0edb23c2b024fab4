import type { Size } from "../core/geometry/lens";
import { stillPx } from "../core/seat/stillWater";
import { BLEED_PX, type BleedContent } from "../kinds/contents/bleed/record";
import { FOCUS_M, type DepthOfFieldContent } from "../kinds/contents/depthOfField/record";
import { PATCH_M, STILL_PX, type StillWaterContent } from "../kinds/contents/stillWater/record";
import { newId, type Edit } from "./edits";
import { addLayer, placeBeside, placeLayer, topOfClipped, updateLayer } from "./layerEdits";
import { freshMask, type LayerRecord } from "./records/layerTypes";
import type { PlateRecord } from "./records/plateTypes";
import type { Records } from "./records/types";
import { removeLayer } from "./removal";
import { tellPlate } from "./seatEdits";
import { sceneryOf } from "./seatGeometry";
import { childrenOf, documentSize, layerOf, layersOf, plateOf } from "./selectors";

const within = (value: number, [least, most]: readonly [number, number]): number => Math.min(most, Math.max(least, value));

/** The layer that smooths a water of the plate, or undefined. */
export const stillWaterOf = (records: Records, surfaceId: string): LayerRecord | undefined =>
  layersOf(records).find(({ content }) => content.type === "stillWater" && content.surfaceId === surfaceId);

/** How far near water is smoothed along the view, of the height of the picture; how much less across, that what is upright in it stays; and the most, times that. Common practice, no source. */
const STILL = { ofHeight: 0.03, across: 0.2, most: 1.5 };

/** How a water is smoothed until more is said: so far that near ripples go; null where it cannot be seen. */
export function proposedStill(plate: PlateRecord, size: Size, surfaceId: string): StillWaterContent | null {
  const scenery = sceneryOf(plate, size);
  const water = scenery.stood.find(({ surface }) => surface.id === surfaceId);
  if (!water || water.surface.is !== "water") return null;
  const xs = water.outline.map((p) => p[0]);
  const nearest = Math.min(size.height - 1, Math.max(...water.outline.map((p) => p[1])));
  const metre = stillPx(scenery.camera, water.offset, (Math.min(...xs) + Math.max(...xs)) / 2, nearest, { lengthM: 1, widthM: 1, mostPx: Infinity });
  if (!(metre.down > 0) || !(metre.across > 0)) return null;
  const px = STILL.ofHeight * size.height;
  return {
    type: "stillWater",
    surfaceId,
    lengthM: within(px / metre.down, PATCH_M),
    widthM: within((STILL.across * px) / metre.across, PATCH_M),
    mostPx: within(Math.round(STILL.most * px), STILL_PX),
  };
}

/** Smooths a water of the plate, right on that, under all that is seated and mirrored in it. */
export function layStillWater(surfaceId: string, name: string): Edit {
  return (records) => {
    const [plate, size] = [plateOf(records), documentSize(records)];
    const content = plate && size && !stillWaterOf(records, surfaceId) ? proposedStill(plate, size, surfaceId) : null;
    if (!content) return records;
    const id = newId("layer");
    const siblings = childrenOf(records, null);
    const laid = addLayer({ id, name, content, blendIn: "light", mask: freshMask(1) })(records);
    // another sky is mirrored in the water before that is smoothed
    const sky = siblings.find((l) => l.content.type === "otherSky");
    if (sky) return placeBeside(id, sky.id, "above")(laid);
    return siblings[0] ? placeBeside(id, siblings[0].id, "below")(laid) : laid;
  };
}

/** A surface of the plate goes with what is mirrored in it or smooths it. */
export const removeSurface =
  (surfaceId: string): Edit =>
  (records) => {
    const follow = layersOf(records).filter(({ content }) => "surfaceId" in content && content.surfaceId === surfaceId);
    const left = follow.reduce((r, { id }) => removeLayer(id)(r), records);
    return tellPlate({ surfaces: (plateOf(left)?.surfaces ?? []).filter((s) => s.id !== surfaceId) })(left);
  };

/** The layer that lays the plate's light over the rim of what another layer shows, or undefined. */
export const bleedOf = (records: Records, layerId: string): LayerRecord | undefined =>
  layersOf(records).find(({ content }) => content.type === "bleed" && content.layerId === layerId);

/** Lays the plate's light over the rim of what a layer shows, over all else that is clipped to that. @param px width of the plate's edges */
export function layBleed(layerId: string, px: number, name: string): Edit {
  return (records) => {
    if (!layerOf(records, layerId) || bleedOf(records, layerId)) return records;
    const id = newId("layer");
    const content: BleedContent = { type: "bleed", layerId, px: within(px, BLEED_PX), amount: 1 };
    const laid = addLayer({ id, name, content, blendIn: "light", clipped: true, mask: freshMask(1) })(records);
    return placeLayer(id, topOfClipped(laid, layerId, id), layerOf(laid, layerId)!.parentId)(laid);
  };
}

export const depthOfFieldOf = (records: Records): LayerRecord | undefined => layersOf(records).find(({ content }) => content.type === "depthOfField");

/** Disc of what is far, of the height of the picture, at first. Common practice, no source. */
const FAR_DISC = 0.003;
/** What shows above the horizon is that far, metres. */
const FAR_M = 500;

/** Puts the whole picture out of focus by distance but for what is so far away; where that is done already, the focus is moved there. */
export function focusAt(metres: number, name: string): Edit {
  return (records) => {
    const size = documentSize(records);
    const there = depthOfFieldOf(records);
    const focusM = within(Math.round(100 * metres) / 100, FOCUS_M);
    if (!size) return records;
    if (there?.content.type === "depthOfField") return updateLayer(there.id, { content: { ...there.content, focusM } })(records);
    const content: DepthOfFieldContent = { type: "depthOfField", focusM, radiusPx: Math.round(10 * FAR_DISC * size.height) / 10, farM: FAR_M };
    return addLayer({ name, content, blendIn: "light", mask: freshMask(1) })(records);
  };
}
