import type { AdjustmentRecord } from "../fields";
import { MOST_TINTS } from "../../../core/adjust/colour";
import { count, degrees, row, share } from "../../values";

/** Where the points of a tint lie before they are moved, EV, and their hues. */
const EV = [-7, -3.5, 0];
const HUES = [250, 40, 70];
export const tint = {
  values: {
    points: count(3, MOST_TINTS),
    ...row("points", MOST_TINTS, (place) => ({
      ev: { unit: "EV", neutral: EV[Math.min(place, 2)], min: -14, max: 6, step: 0.1, digits: 1 },
      hue: degrees(HUES[Math.min(place, 2)], 0, 360),
      strength: share(0),
    })),
  },
} satisfies AdjustmentRecord;
