import type { KindWords } from "../../wording";

export const sharpen: KindWords = {
  name: "Sharpening",
  does: "Adds what a blur takes away, on log light.",
  values: {
    amount: "Amount",
    radiusPx: "Radius",
    thresholdEv: {
      name: "From",
      hint: "Weaker differences are taken for noise.",
    },
  },
};
