import type { ContentWords } from "../wording";
import type { BeamContent } from "./record";

export const beam: ContentWords<BeamContent> = {
  word: () => "beam of light",
  values: ({ halfDeg, ev, soft, dusty }) => ({
    "half of its angle": `${halfDeg.toFixed(1)}°`,
    light: `${ev.toFixed(1)} EV`,
    "soft border": `${Math.round(100 * soft)} %`,
    dusty: `${Math.round(100 * dusty)} %`,
  }),
};
