import type { KindWords } from "../../wording";

export const exposure: KindWords = {
  name: "Exposure",
  does: "Multiplies light.",
  values: {
    ev: "Exposure",
  },
};
