import { blurred, type AdjustmentRecord } from "../fields";
import { px, share } from "../../values";

export const highPass = {
  values: {
    amount: share(0),
    radiusPx: px(3, 100),
    gain: { unit: "×", neutral: 1, min: 0.1, max: 4, step: 0.05, digits: 2 },
  },
  amounts: ["amount"],
  reach: blurred,
} satisfies AdjustmentRecord;
