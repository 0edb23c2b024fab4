import type { AdjustmentRecord } from "../fields";

export const contrast = {
  values: {
    factor: { unit: "×", neutral: 1, min: 0.3, max: 3, step: 0.01, digits: 2 },
    /** linear light that stays as it is */
    pivot: { unit: "", neutral: 0.18, min: 0.005, max: 1.5, step: 0.005, digits: 2 },
  },
  amounts: ["factor"],
} satisfies AdjustmentRecord;
