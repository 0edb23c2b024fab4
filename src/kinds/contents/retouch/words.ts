import { numberText } from "../../../words/numbers";
import type { ContentWords } from "../wording";
import type { RetouchContent, RetouchMethod } from "./record";

export const RETOUCH_NAMES: Record<RetouchMethod, string> = { heal: "Healing", clone: "Cloning", fill: "Filling", smooth: "Smoothing over" };

export const retouch: ContentWords<RetouchContent> = {
  word: ({ method }) => RETOUCH_NAMES[method].toLowerCase(),
  values: ({ method, dx, dy, angleDeg, scale, mirrored }) => ({
    "mended by": RETOUCH_NAMES[method].toLowerCase(),
    source: `${numberText(dx)}, ${numberText(dy)} px, ${numberText(angleDeg, 1)}°, ${numberText(100 * scale)} %${mirrored ? ", mirrored" : ""}`,
  }),
};
