import { finite, id } from "../../../document/records/fields";
import type { ContentRecord } from "../fields";
import { LEAST_SLOPE, MOST_SLOPE } from "../reflection/record";

/** The road of light that a lamp throws on water of the plate. */
export interface LampInWaterContent {
  type: "lampInWater";
  lampId: string;
  /** the water, a surface of the plate */
  surfaceId: string;
  /** of its ripples, RMS */
  slope: number;
  /** brighter than the lamp is said to shine, EV */
  ev: number;
}

export const SHINES_EV: [number, number] = [-6, 6];

export const lampInWater: ContentRecord<LampInWaterContent> = {
  fields: { lampId: id(), surfaceId: id(), slope: finite().min(LEAST_SLOPE).max(MOST_SLOPE), ev: finite().min(SHINES_EV[0]).max(SHINES_EV[1]) },
  reads: () => ({ plate: true }),
};
