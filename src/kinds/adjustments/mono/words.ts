import type { AdjustmentWords } from "../wording";

export const mono: AdjustmentWords = {
  name: "Mono mix",
  does: "One grey from the three channels.",
  values: {
    amount: "Amount",
    red: "Red",
    green: "Green",
    blue: "Blue",
  },
};
