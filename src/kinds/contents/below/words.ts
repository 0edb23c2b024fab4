import type { ContentWords } from "../wording";
import type { BelowContent } from "./record";

export const below: ContentWords<BelowContent> = { word: () => "all below, live" };
