import type { ContentWords } from "../wording";
import type { LampGlowContent } from "./record";

export const lampGlow: ContentWords<LampGlowContent> = {
  word: () => "glow around a lamp",
  values: ({ rimEv, fallEv, bendEv }) => ({
    "light at the rim": `${rimEv.toFixed(1)} EV`,
    "with each doubling of the way": `${fallEv.toFixed(1)} EV`,
    "and more with the next": `${bendEv.toFixed(2)} EV`,
  }),
};
