import { evStep, share, type MeasuredValue } from "../../values";
import type { AdjustmentRecord } from "../fields";

const beside = (neutral: number): MeasuredValue => ({ unit: "×", neutral, min: 0.1, max: 5, step: 0.01, digits: 2 });

export const clearing = {
  values: {
    /** below 0 it is laid on */
    amount: share(0, -1, 1),
    /** light of the air's green, and of its red and blue beside that */
    airEv: evStep(-1.5, -8, 3),
    airRed: beside(1),
    airBlue: beside(1),
    /** how much more than green they are hidden */
    hidesRed: beside(0.87),
    hidesBlue: beside(1.22),
    /** light that is taken to come through, however thick it is */
    least: share(0.15, 0.02, 1),
  },
  amounts: ["amount"],
  readsAll: ({ amount }) => amount !== 0,
} satisfies AdjustmentRecord;
