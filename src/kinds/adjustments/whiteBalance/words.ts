import type { KindWords } from "../../wording";

export const whiteBalance: KindWords = {
  name: "White balance",
  does: "Adapts to another light.",
  values: {
    mired: "Warmer by",
    duv: "Green to magenta",
  },
};
