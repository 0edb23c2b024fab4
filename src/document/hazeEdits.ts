import type { Air } from "../core/air/fitHaze";
import { luminanceOf } from "../core/color/hexColour";
import { log2 } from "../core/numeric/elementary";
import { valuesOf } from "../kinds/adjustments/records";
import { VISIBLE_M, type MistContent } from "../kinds/contents/mist/record";
import { newId, type Edit } from "./edits";
import { addLayer, placeBeside, placeLayer, topOfClipped } from "./layerEdits";
import { freshMask, type LayerRecord } from "./records/layerTypes";
import type { Records } from "./records/types";
import { childrenOf, layerOf, plateOf } from "./selectors";

/** What is left of contrast where one sees no further. @see Koschmieder 1924; WMO No. 8: ln(1/0.02) = 3.912 */
const LN_FIFTIETH = Math.log(50);
/** What shows above the horizon is that far, metres. */
const FAR_M = 500;
const within = (value: number, [least, most]: readonly [number, number]): number => Math.min(most, Math.max(least, value));

/** How much red and blue may differ from green. */
const BESIDE: [number, number] = [0.1, 5];

/** How far one sees through air, metres. */
export const visibleM = ({ perM }: Air): number => within(LN_FIFTIETH / Math.max(1e-9, perM[1]), VISIBLE_M);

/** Light that air lays over what is black and so far away, linear luminance. */
export const airLightAt = ({ color, perM }: Air, distanceM: number): number => luminanceOf(color.map((v, c) => v * (1 - Math.exp(-perM[c] * distanceM))));

const hidesOf = ({ perM }: Air): number[] => perM.map((v) => within(v / Math.max(1e-9, perM[1]), BESIDE));

/** The air that lies on what a layer shows alone, or undefined. */
export const hazeOn = (records: Records, layerId: string): LayerRecord | undefined => {
  const order = childrenOf(records, layerOf(records, layerId)?.parentId ?? null);
  const at = order.findIndex((l) => l.id === layerId);
  for (let k = at + 1; order[k]?.clipped; k++) if (order[k].content.type === "mist" && order[k].visible) return order[k];
  return undefined;
};

/** How much of a thing the air that was laid on it hides where it stands, 0..1. */
export function hiddenBy(records: Records, layerId: string, distanceM: number): number {
  const content = hazeOn(records, layerId)?.content;
  return content?.type === "mist" && content.halfHeightM === null ? 1 - Math.exp((-LN_FIFTIETH * distanceM) / content.visibleM) : 0;
}

/** Lays the air of the plate over what a layer shows, at full opacity and over all else that is clipped to it; how much follows from where it stands. */
export function layHaze(layerId: string, air: Air, name: string): Edit {
  return (records) => {
    const layer = layerOf(records, layerId);
    if (!layer || hazeOn(records, layerId)) return records;
    const id = newId("layer");
    const content: MistContent = {
      type: "mist",
      visibleM: visibleM(air),
      halfHeightM: null,
      patchy: 0,
      cloudM: 5,
      seed: 1,
      color: air.color,
      farM: FAR_M,
      hides: hidesOf(air),
    };
    const laid = addLayer({ id, name, content, blendIn: "light", clipped: true, mask: freshMask(1) })(records);
    return placeLayer(id, topOfClipped(laid, layerId, id), layer.parentId)(laid);
  };
}

/** The layer that takes the plate's haze away, or undefined: one that is laid on a thing, in a group or in the finish is none. */
export const clearingOf = (records: Records): LayerRecord | undefined =>
  childrenOf(records, null).find(({ content, clipped }) => !clipped && content.type === "adjustment" && content.adjustment === "clearing");

/** The air of the plate as it shows: what was taken away of it is gone; undefined where it was not measured. */
export function airNow(records: Records): Air | undefined {
  const air = plateOf(records)?.air;
  const layer = clearingOf(records);
  if (!air || !layer?.visible || layer.content.type !== "adjustment") return air;
  const taken = valuesOf("clearing", layer.content.values).amount * layer.opacity;
  return { color: air.color, perM: air.perM.map((v) => v * (1 - taken)) };
}

/** How much of it is taken at first. Common practice, no source: strong effects are taken back to about half, and far things look right with some. */
const TAKEN = 0.6;
const [LEAST_EV, MOST_EV] = [-8, 3];

/** Takes the air before the plate away, under all that is laid on it. */
export function clearPlate(air: Air, layerName: string): Edit {
  return (records) => {
    if (clearingOf(records)) return records;
    const id = newId("layer");
    const [red, green, blue] = air.color.map((v) => Math.max(1e-6, v));
    const [hidesRed, , hidesBlue] = hidesOf(air);
    const [airRed, airBlue] = [red, blue].map((v) => within(v / green, BESIDE));
    const values = { amount: TAKEN, airEv: within(log2(green), [LEAST_EV, MOST_EV]), airRed, airBlue, hidesRed, hidesBlue };
    const siblings = childrenOf(records, null);
    const laid = addLayer({ id, name: layerName, content: { type: "adjustment", adjustment: "clearing", values }, mask: freshMask(1) })(records);
    return siblings[0] ? placeBeside(id, siblings[0].id, "below")(laid) : laid;
  };
}
