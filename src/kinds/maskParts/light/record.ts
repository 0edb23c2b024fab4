import { finite } from "../../../document/records/fields";
import { evRange } from "../../values";
import { measured, type Measured, type PartRecord } from "../fields";

/** Luminance, EV against white. */
export interface Light extends Measured {
  kind: "light";
  fromEv: number;
  toEv: number;
  softEv: number;
}

export const light: PartRecord<Light> = {
  fields: { ...measured, fromEv: finite().min(-40).max(40), toEv: finite().min(-40).max(40), softEv: finite().min(0).max(20) },
  values: { fromEv: evRange(-3, -16, 10), toEv: evRange(8, -16, 10), softEv: evRange(1, 0, 6) },
  isMeasured: true,
};
