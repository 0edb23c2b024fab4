import type { AdjustmentRecord } from "../fields";
import { mired, share } from "../../values";

export const haze = {
  values: {
    /** below 0 it is laid on */
    amount: share(0, -0.9, 0.9),
    veilEv: { unit: "EV", neutral: -1.5, min: -8, max: 3, step: 0.1, digits: 1 },
    mired: mired(),
  },
  amounts: ["amount"],
} satisfies AdjustmentRecord;
