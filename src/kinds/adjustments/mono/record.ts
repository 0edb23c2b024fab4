import type { AdjustmentRecord } from "../fields";
import { share } from "../../values";

export const mono = {
  values: {
    amount: share(0),
    red: share(0.2627, -1, 2),
    green: share(0.678, -1, 2),
    blue: share(0.0593, -1, 2),
  },
  amounts: ["amount"],
} satisfies AdjustmentRecord;
