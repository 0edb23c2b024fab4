import type { KindWords } from "../../wording";

export const invert: KindWords = {
  name: "Inversion",
  does: "Encoded values from the other end.",
  values: {
    amount: "Amount",
  },
};
