import type { KindWords } from "../../wording";

export const detail: KindWords = {
  name: "Contrast by detail size",
  does: "Detail of three sizes stronger or weaker, judged on log light.",
  values: {
    fine: "Up to the first size",
    finePx: "First size",
    middle: "Up to the second",
    middlePx: "Second size",
    coarse: "Up to the third",
    coarsePx: "Third size",
  },
};
