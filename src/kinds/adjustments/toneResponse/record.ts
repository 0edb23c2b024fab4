import { choice, evStep } from "../../values";
import type { AdjustmentRecord } from "../fields";

/** How scene light becomes light for a screen. @see core/color/toneCurve */
export const toneResponse = {
  values: {
    /** 0 Reinhard, 1 toe and shoulder */
    curve: choice(0, 2),
    headroomEv: evStep(4, 0, 16),
    shoulderEv: evStep(2.5, 0.1, 6),
    toeEv: evStep(7, 2, 12),
    toeLiftEv: evStep(0, -4, 3.5),
  },
  amounts: ["toeLiftEv"],
  needsSceneLight: true,
} satisfies AdjustmentRecord;
