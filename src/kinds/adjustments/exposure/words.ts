import type { AdjustmentWords } from "../wording";

export const exposure: AdjustmentWords = {
  name: "Exposure",
  does: "Multiplies light.",
  values: {
    ev: "Exposure",
  },
};
