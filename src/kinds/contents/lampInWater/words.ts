import type { ContentWords } from "../wording";
import type { LampInWaterContent } from "./record";

export const lampInWater: ContentWords<LampInWaterContent> = {
  word: () => "a lamp mirrored in water",
  values: ({ slope, ev }) => ({ "brighter by": `${ev.toFixed(1)} EV`, "slope of the ripples": `${(100 * slope).toFixed(1)} %` }),
};
