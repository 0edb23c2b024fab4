import { string } from "yup";
import { finite } from "../../../document/records/fields";
import { place, type PartRecord } from "../fields";

export const FOUND = ["sky", "even", "subject", "near"] as const;
/** The sky, even surfaces, the subject in a box, or what surrounds a place up to the next edges. */
export type Found = (typeof FOUND)[number];

/** What is found in the merge; a box or a place in reference px, edges as ΔE. */
export interface FoundArea {
  kind: "found";
  what: Found;
  x0: number;
  y0: number;
  x1: number;
  y1: number;
  tolerance: number;
}

export const found: PartRecord<FoundArea> = {
  fields: {
    what: string()
      .oneOf([...FOUND])
      .required(),
    x0: place(),
    y0: place(),
    x1: place(),
    y1: place(),
    tolerance: finite().min(0).max(100),
  },
  values: { tolerance: { unit: "ΔE", neutral: 8, min: 0.5, max: 60, step: 0.5, digits: 1 } },
};
