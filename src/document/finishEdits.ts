import { valuesOfKind, type Adjustment } from "../kinds/adjustments/records";
import { newId, put, updateRecord, type Edit } from "./edits";
import { removeLayer } from "./removal";
import { addLayer } from "./layerEdits";
import type { LayerRecord } from "./records/layerTypes";
import type { Records } from "./records/types";
import { childrenOf, finishGroupOf, finishId, finishLayerOf, lookId, mendedId, workingSetIdOf } from "./selectors";

/** The steps that Finish has a control for, bottom first: scene light is evened out and balanced before it is brought to a screen. */
export const FINISH_STEPS = ["localTone", "exposure", "whiteBalance", "contrast", "chroma", "toneResponse"] as const satisfies Adjustment[];
export type FinishStep = (typeof FINISH_STEPS)[number];

export const isFinishStep = (adjustment: Adjustment): adjustment is FinishStep => (FINISH_STEPS as readonly Adjustment[]).includes(adjustment);

/** What the layers of a finish begin by being called. */
export const FINISH_NAMES: Record<FinishStep, string> = {
  localTone: "Local tone compression",
  exposure: "Exposure",
  whiteBalance: "White balance",
  contrast: "Contrast about a pivot",
  chroma: "Chroma",
  toneResponse: "Tone response",
};

/** Values as far as a step may have them: what is measured may ask for more. */
const held = (step: FinishStep, values: Record<string, number>): Record<string, number> =>
  Object.fromEntries(
    Object.entries(values).map(([name, v]) => {
      const { min, max } = valuesOfKind(step)[name];
      return [name, Math.min(max, Math.max(min, v))];
    }),
  );

/** Sets values of a step of the finish, held to its limits; the step and the group it lies in are made where there are none. */
export function setFinish(step: FinishStep, given: Record<string, number>): Edit {
  return (records) => {
    const values = held(step, given);
    const grouped = withFinish(records);
    const layer = finishLayerOf(grouped, step);
    if (layer?.content.type !== "adjustment") return addStep(grouped, step, values);
    return put(grouped, { ...layer, visible: true, content: { ...layer.content, values: { ...layer.content.values, ...values } } });
  };
}

/** Takes a step away; the tone response of scene light goes back to its own values, for without it nothing could be looked at. */
export function resetFinish(step: FinishStep): Edit {
  return (records) => {
    const layer = finishLayerOf(records, step);
    if (!layer) return records;
    return step === "toneResponse" ? put(records, { ...layer, content: { type: "adjustment", adjustment: step, values: {} } }) : removeLayer(layer.id)(records);
  };
}

/** A set whose merge holds scene light has a tone response in its finish. */
export const withToneResponse: Edit = (records) => {
  const grouped = withFinish(records);
  return finishLayerOf(grouped, "toneResponse") ? grouped : addStep(grouped, "toneResponse", {});
};

export function withFinish(records: Records): Records {
  if (finishGroupOf(records)) return records;
  const id = finishId(workingSetIdOf(records));
  return addLayer({ id, name: "Finish", content: { type: "group", through: true } })(records);
}

/** Lays a step where its order asks for: right below the first that comes after it. */
function addStep(records: Records, step: FinishStep, values: Record<string, number>): Records {
  const setId = workingSetIdOf(records);
  const parentId = finishId(setId);
  const onTop = [lookId(setId), mendedId(setId)];
  const order = (l: LayerRecord) =>
    onTop.includes(l.id) ? Infinity : l.content.type === "adjustment" ? FINISH_STEPS.indexOf(l.content.adjustment as FinishStep) : -1;
  const siblings = childrenOf(records, parentId);
  const next = siblings.findIndex((l) => order(l) > FINISH_STEPS.indexOf(step));
  const own = `${parentId}-${step}`;
  const id = records[own] ? newId("layer") : own;
  const added = addLayer({ id, parentId, name: FINISH_NAMES[step], content: { type: "adjustment", adjustment: step, values } })(records);
  if (next < 0) return added;
  const above = siblings[next].index;
  const below = siblings[next - 1]?.index ?? above - 2;
  return updateRecord<LayerRecord>(id, { index: (below + above) / 2 })(added);
}
