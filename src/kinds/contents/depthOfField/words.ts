import type { ContentWords } from "../wording";
import type { DepthOfFieldContent } from "./record";

export const depthOfField: ContentWords<DepthOfFieldContent> = {
  word: () => "depth of field",
  values: ({ focusM, radiusPx }) => ({ "in focus at": `${focusM.toFixed(1)} m`, "disc of what is far": `${radiusPx.toFixed(1)} px` }),
};
