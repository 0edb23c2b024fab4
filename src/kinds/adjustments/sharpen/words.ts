import type { AdjustmentWords } from "../wording";

export const sharpen: AdjustmentWords = {
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
