import { finite } from "../../../document/records/fields";
import { degrees } from "../../values";
import { measured, type Measured, type PartRecord } from "../fields";

/** Hue in Oklch degrees; less colourful things than leastChroma are left out. */
export interface Hue extends Measured {
  kind: "hue";
  hueDeg: number;
  widthDeg: number;
  leastChroma: number;
}

export const hue: PartRecord<Hue> = {
  fields: { ...measured, hueDeg: finite().min(0).max(360), widthDeg: finite().min(1).max(360), leastChroma: finite().min(0).max(0.5) },
  values: {
    hueDeg: degrees(60, 0, 360),
    widthDeg: degrees(60, 5, 180),
    leastChroma: { unit: "", neutral: 0.03, min: 0, max: 0.3, step: 0.005, digits: 3 },
  },
  isMeasured: true,
};
