import type { ContentWords } from "../wording";
import type { MistContent } from "./record";

export const mist: ContentWords<MistContent> = {
  word: ({ halfHeightM }) => (halfHeightM === null ? "mist in the air" : "mist on the ground"),
  values: ({ visibleM, halfHeightM, patchy, farM }) => ({
    "one sees": `${Math.round(visibleM)} m`,
    ...(halfHeightM === null ? {} : { "half as thick at": `${halfHeightM.toFixed(1)} m` }),
    "how uneven": `${Math.round(100 * patchy)} %`,
    "far things at": `${Math.round(farM)} m`,
  }),
};
