import type { ContentWords } from "../wording";
import type { RelightContent } from "./record";

export const relight: ContentWords<RelightContent> = {
  word: () => "light turned to the plate's",
  values: ({ azimuthDeg, elevationDeg, ratioEv, toRatioEv, amount }) => ({
    "its own light from": `${azimuthDeg.toFixed(0)}° / ${elevationDeg.toFixed(0)}°`,
    "light over shade": `${ratioEv.toFixed(1)} EV → ${toRatioEv.toFixed(1)} EV`,
    amount: `${Math.round(100 * amount)} %`,
  }),
};
