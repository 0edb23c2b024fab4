import type { KindWords } from "../../wording";

export const mono: KindWords = {
  name: "Mono mix",
  does: "One grey from the three channels.",
  values: {
    amount: "Amount",
    red: "Red",
    green: "Green",
    blue: "Blue",
  },
};
