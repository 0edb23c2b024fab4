import type { AdjustmentRecord } from "../fields";
import { degrees, ev, times } from "../../values";

export const hueBand = {
  values: {
    hueDeg: degrees(60, 0, 360),
    /** full strength in the inner half */
    widthDeg: degrees(60, 10, 180),
    shiftDeg: degrees(0, -90, 90),
    factor: times(),
    lightEv: ev(2),
  },
  amounts: ["shiftDeg", "factor", "lightEv"],
} satisfies AdjustmentRecord;
