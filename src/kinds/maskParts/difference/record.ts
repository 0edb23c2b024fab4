import { finite, id } from "../../../document/records/fields";
import { evRange } from "../../values";
import type { PartRecord } from "../fields";

/** Where two frames differ at the same exposure, EV. */
export interface Difference {
  kind: "difference";
  aId: string;
  bId: string;
  fromEv: number;
  softEv: number;
}

export const difference: PartRecord<Difference> = {
  fields: { aId: id(), bId: id(), fromEv: finite().min(0).max(20), softEv: finite().min(0).max(20) },
  values: { fromEv: evRange(0.5, 0, 6), softEv: evRange(0.25, 0, 4) },
};
