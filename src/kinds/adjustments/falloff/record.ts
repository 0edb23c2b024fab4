import type { AdjustmentRecord } from "../fields";
import { ev, share } from "../../values";

export const falloff = {
  values: {
    ev: ev(4),
    centreX: share(0.5),
    centreY: share(0.5),
    /** share of the way to the furthest corner that stays as it is */
    start: share(0.3, 0, 0.95),
  },
  amounts: ["ev"],
} satisfies AdjustmentRecord;
