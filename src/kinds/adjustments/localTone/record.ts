import { evStep, share } from "../../values";
import type { AdjustmentRecord } from "../fields";

export const localTone = {
  values: {
    strength: share(0),
    /** radius against the longer side */
    scale: { unit: "% of the side", neutral: 0.06, min: 0.005, max: 0.3, step: 0.005, digits: 1, scale: 100 },
    floorEv: evStep(-9, -14, 0),
    ceilingEv: evStep(5, -2, 12),
    /** light that stays as it is */
    pivotEv: evStep(-2.5, -8, 4),
  },
  amounts: ["strength"],
  readsAll: ({ strength }) => strength > 0,
  needsSceneLight: true,
} satisfies AdjustmentRecord;
