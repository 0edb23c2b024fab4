import type { AdjustmentRecord } from "../fields";
import { MOST_ZONES } from "../../../core/adjust/tone";
import { count, ev, row } from "../../values";

export const zones = {
  values: {
    /** centres of the deepest and the brightest zone, against white */
    darkestEv: { unit: "EV", neutral: -10, min: -16, max: -2, step: 0.1, digits: 1 },
    brightestEv: { unit: "EV", neutral: 0, min: -6, max: 10, step: 0.1, digits: 1 },
    zones: count(5, MOST_ZONES),
    ...row("zones", MOST_ZONES, () => ({ zone: ev(4) })),
  },
} satisfies AdjustmentRecord;
