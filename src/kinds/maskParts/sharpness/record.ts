import { finite } from "../../../document/records/fields";
import { evRange, px } from "../../values";
import { measured, type Measured, type PartRecord } from "../fields";

/** How strong detail of a size (standard deviation, px) is around a place, EV. */
export interface Sharpness extends Measured {
  kind: "sharpness";
  sizePx: number;
  fromEv: number;
  softEv: number;
}

export const sharpness: PartRecord<Sharpness> = {
  fields: { ...measured, sizePx: finite().min(0.3).max(200), fromEv: finite().min(0).max(20), softEv: finite().min(0).max(20) },
  values: { sizePx: px(4, 100), fromEv: { ...evRange(0.1, 0, 3), step: 0.01 }, softEv: { ...evRange(0.05, 0, 2), step: 0.01 } },
  isMeasured: true,
};
