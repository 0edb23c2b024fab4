import type { ContentWords } from "../wording";
import type { OtherSkyContent } from "./record";

export const otherSky: ContentWords<OtherSkyContent> = {
  word: () => "another sky",
  values: ({ panDeg, liftDeg, times, exposureEv, landAmount, haze, water }) => ({
    turned: `${panDeg.toFixed(1)}°`,
    lifted: `${liftDeg.toFixed(1)}°`,
    "times as large": times.toFixed(2),
    light: `${exposureEv.toFixed(1)} EV`,
    "light on the land": `${Math.round(100 * landAmount)} %`,
    "air at the horizon": `${Math.round(100 * haze)} %`,
    "in the water": `${Math.round(100 * water)} %`,
  }),
};
