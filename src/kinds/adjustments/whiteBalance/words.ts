import type { AdjustmentWords } from "../wording";

export const whiteBalance: AdjustmentWords = {
  name: "White balance",
  does: "Adapts to another light.",
  values: {
    mired: "Warmth",
    duv: "Magenta",
  },
};
