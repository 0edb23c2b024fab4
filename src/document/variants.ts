import { amountsOf, valuesOf, valuesOfKind } from "../kinds/adjustments/records";
import type { Edit } from "./edits";
import { updateLayer } from "./layerEdits";
import type { LayerRecord } from "./records/layerTypes";
import { layerOf } from "./selectors";

/** How far variants of an adjustment go, of what it does now. */
export const VARIANTS = [0, 0.5, 0.75, 1, 1.25, 1.5] as const;

/** Whether less or more of an adjustment can be shown: it does something that has an amount. */
export function hasVariants({ content }: LayerRecord): boolean {
  if (content.type !== "adjustment") return false;
  const values = valuesOf(content.adjustment, content.values);
  return amountsOf(content.adjustment).some((name) => values[name] !== valuesOfKind(content.adjustment)[name].neutral);
}

/** An adjustment that does so many times as much, within its limits and as finely as its values are set. */
export function variantOf(layerId: string, times: number): Edit {
  return (records) => {
    const layer = layerOf(records, layerId);
    if (layer?.content.type !== "adjustment" || times === 1) return records;
    const { adjustment, values } = layer.content;
    const now = valuesOf(adjustment, values);
    const varied = amountsOf(adjustment).map((name) => {
      const { neutral, min, max, digits, scale = 1 } = valuesOfKind(adjustment)[name];
      const steps = 10 ** digits * scale;
      return [name, Math.min(max, Math.max(min, Math.round((neutral + times * (now[name] - neutral)) * steps) / steps))];
    });
    return updateLayer(layerId, { content: { ...layer.content, values: { ...values, ...Object.fromEntries(varied) } } })(records);
  };
}
