import type { AdjustmentWords } from "../wording";

export const invert: AdjustmentWords = {
  name: "Inversion",
  does: "Encoded values from the other end.",
  values: {
    amount: "Amount",
  },
};
