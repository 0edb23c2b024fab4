import type { ContentWords } from "../wording";
import type { BleedContent } from "./record";

export const bleed: ContentWords<BleedContent> = {
  word: () => "light of the plate over its rim",
  values: ({ px, amount }) => ({ "edges of": `${px.toFixed(1)} px`, amount: `${Math.round(100 * amount)} %` }),
};
