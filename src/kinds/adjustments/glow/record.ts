import { blurred, type AdjustmentRecord } from "../fields";
import { px, share } from "../../values";

export const glow = {
  values: {
    amount: share(0, 0, 2),
    radiusPx: px(40, 400),
    fromEv: { unit: "EV", neutral: -1, min: -8, max: 4, step: 0.1, digits: 1 },
  },
  amounts: ["amount"],
  reach: blurred,
} satisfies AdjustmentRecord;
