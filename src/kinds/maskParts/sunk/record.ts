import { finite } from "../../../document/records/fields";
import type { MeasuredValue } from "../../values";
import type { PartRecord } from "../fields";

/** What of something seated is hidden by the blades of the plate that it stands among. */
export interface Sunk {
  kind: "sunk";
  /** how high they reach in the middle, and how far some go over or stay under that, cm */
  depthCm: number;
  roughCm: number;
  /** width of a blade, cm */
  bladeCm: number;
}

const cm = (neutral: number, most: number): MeasuredValue => ({ unit: "cm", neutral, min: 0, max: most, step: 0.5, digits: 1 });

export const sunk: PartRecord<Sunk> = {
  fields: { depthCm: finite().min(0).max(500), roughCm: finite().min(0).max(500), bladeCm: finite().min(0.05).max(50) },
  values: { depthCm: cm(10, 200), roughCm: cm(5, 100), bladeCm: { unit: "cm", neutral: 1, min: 0.1, max: 20, step: 0.1, digits: 1 } },
};
