import type { KindWords } from "../../wording";

export const contrast: KindWords = {
  name: "Contrast about a pivot",
  does: "Raises luminance to a power about a pivot.",
  values: {
    factor: "Contrast",
    pivot: {
      name: "Pivot",
      hint: "Linear light that stays as it is.",
    },
  },
};
