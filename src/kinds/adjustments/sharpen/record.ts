import { blurred, type AdjustmentRecord } from "../fields";
import { px, share } from "../../values";

export const sharpen = {
  values: {
    amount: share(0, 0, 3),
    radiusPx: px(1, 20),
    /** weaker differences are taken for noise */
    thresholdEv: { unit: "EV", neutral: 0, min: 0, max: 0.5, step: 0.005, digits: 3 },
  },
  amounts: ["amount"],
  reach: blurred,
} satisfies AdjustmentRecord;
