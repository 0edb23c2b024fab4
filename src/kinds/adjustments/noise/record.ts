import { noiseReach } from "../../../core/adjust/spatial";
import type { AdjustmentRecord } from "../fields";

export const noise = {
  values: {
    /** encoded, in even areas at 1:1 */
    sigma: { unit: "% σ", neutral: 0.01, min: 0.001, max: 0.1, step: 0.0005, digits: 2, scale: 100 },
    light: { unit: "σ", neutral: 0, min: 0, max: 5, step: 0.1, digits: 1 },
    color: { unit: "σ", neutral: 0, min: 0, max: 10, step: 0.1, digits: 1 },
  },
  amounts: ["light", "color"],
  reach: (_values, level) => noiseReach(level),
} satisfies AdjustmentRecord;
