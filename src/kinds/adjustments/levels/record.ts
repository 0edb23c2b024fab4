import type { AdjustmentRecord } from "../fields";
import { channel, encoded } from "../../values";

export const levels = {
  values: {
    channel: channel(),
    inLow: encoded(0),
    inHigh: encoded(1),
    gamma: { unit: "", neutral: 1, min: 0.2, max: 5, step: 0.01, digits: 2 },
    outLow: encoded(0),
    outHigh: encoded(1),
  },
} satisfies AdjustmentRecord;
