import type { KindWords } from "../../wording";

export const highPass: KindWords = {
  name: "High-pass",
  does: "Only detail up to a size, about mid grey and without colour; meant for a blend mode of contrast.",
  values: {
    amount: "Amount",
    radiusPx: "Up to",
    gain: "Contrast",
  },
};
