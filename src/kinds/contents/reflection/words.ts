import type { ContentWords } from "../wording";
import type { ReflectionContent } from "./record";

export const reflection: ContentWords<ReflectionContent> = {
  word: () => "reflection",
  values: ({ slope }) => ({ "slope of the ripples": `${(100 * slope).toFixed(1)} %` }),
};
