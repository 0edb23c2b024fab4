import { layerOf } from "../../../document/selectors";
import type { ContentWords } from "../wording";
import type { LampLightContent } from "./record";

export const lampLight: ContentWords<LampLightContent> = {
  word: ({ layerId }, _layer, records) =>
    layerId === null ? "light of a lamp on the plate" : `light of a lamp on ${layerOf(records, layerId)?.name ?? "what was seated"}`,
  values: ({ times, depth }) => ({ "times as strong": times.toFixed(2), depth: `${Math.round(100 * depth)} %` }),
};
