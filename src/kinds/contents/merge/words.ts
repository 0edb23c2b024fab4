import type { ContentWords } from "../wording";
import type { MergeContent } from "./record";

export const merge: ContentWords<MergeContent> = { word: () => "the merge" };
