import { finite } from "../../../document/records/fields";
import type { PartRecord } from "../fields";

/** Where strokes were painted, what the parts before it made is blurred by a standard deviation, px. */
export interface Soften {
  kind: "soften";
  sigmaPx: number;
}

export const soften: PartRecord<Soften> = {
  fields: { sigmaPx: finite().min(0.3).max(400) },
  values: { sigmaPx: { unit: "px", neutral: 12, min: 0.3, max: 200, step: 0.5, digits: 1 } },
  takesStrokes: true,
};
