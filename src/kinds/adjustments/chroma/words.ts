import type { AdjustmentWords } from "../wording";

export const chroma: AdjustmentWords = {
  name: "Chroma",
  does: "Multiplies chroma (Oklch), less where it is strong already.",
  values: {
    factor: "Chroma",
    protect: "Strong colours kept",
  },
};
