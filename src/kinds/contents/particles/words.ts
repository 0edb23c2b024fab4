import type { ContentWords } from "../wording";
import type { ParticlesContent } from "./record";

export const particles: ContentWords<ParticlesContent> = {
  word: () => "things in the air",
  values: ({ count, sizeMm, nearM, farM, exposureS }) => ({
    "how many": String(Math.round(count)),
    size: `${sizeMm.toFixed(1)} mm`,
    away: `${nearM.toFixed(1)} m – ${farM.toFixed(0)} m`,
    "seen for": `${exposureS.toFixed(3)} s`,
  }),
};
