import type { BlendMode } from "../core/blend/blendModes";
import type { Adjustment } from "../kinds/adjustments/records";
import { newId, type Edit } from "./edits";
import { setFinish } from "./finishEdits";
import { addLayer } from "./layerEdits";
import type { LayerRecord } from "./records/layerTypes";
import type { Records } from "./records/types";
import { childrenOf, layerOf } from "./selectors";

/** One adjustment of a look, without the mask it had. */
export interface LookStep {
  name: string;
  adjustment: Adjustment;
  values: Record<string, number>;
  opacity: number;
  mode: BlendMode;
}

/** Adjustments with their values, to be laid over another picture. Belongs to the person, not to a job. */
export interface Look {
  id: string;
  name: string;
  createdAt: string;
  /** bottom first */
  steps: LookStep[];
}

/** The adjustments of a layer: its own, or all that a group holds. */
export function stepsOfLayer(records: Records, layerId: string): LookStep[] {
  const layer = layerOf(records, layerId);
  if (!layer) return [];
  if (layer.content.type === "group") return childrenOf(records, layerId).flatMap((l) => stepsOfLayer(records, l.id));
  return layer.content.type === "adjustment" ? [stepOf(layer, layer.content.adjustment, layer.content.values)] : [];
}

const stepOf = ({ name, opacity, mode }: LayerRecord, adjustment: Adjustment, values: Record<string, number>): LookStep => ({
  name,
  adjustment,
  values: { ...values },
  opacity,
  mode,
});

/**
 * Lays the adjustments of a look over all that is there, each as a layer that reveals all. A tone response is the finish's: scene light is brought to a screen once,
 * above all else.
 */
export function layLook(look: Look): Edit {
  return (records) =>
    look.steps.reduce(
      (r, { name, adjustment, values, opacity, mode }) =>
        adjustment === "toneResponse"
          ? setFinish(adjustment, values)(r)
          : addLayer({ id: newId("layer"), name, note: `From the look "${look.name}".`, content: { type: "adjustment", adjustment, values }, opacity, mode })(
              r,
            ),
      records,
    );
}
