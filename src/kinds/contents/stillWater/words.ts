import type { ContentWords } from "../wording";
import type { StillWaterContent } from "./record";

export const stillWater: ContentWords<StillWaterContent> = {
  word: () => "smoothed water",
  values: ({ lengthM, widthM, mostPx }) => ({
    "patch, away": `${lengthM.toFixed(2)} m`,
    "patch, across": `${widthM.toFixed(2)} m`,
    "at most": `${Math.round(mostPx)} px`,
  }),
};
