import { stillReach, type Stilling } from "../../../core/seat/stillWater";
import { finite, id } from "../../../document/records/fields";
import type { ContentRecord } from "../fields";

/** Water of the plate, smoothed as by a long exposure. */
export interface StillWaterContent extends Stilling {
  type: "stillWater";
  /** the water, a surface of the plate */
  surfaceId: string;
}

export const PATCH_M: [number, number] = [0.01, 200];
export const STILL_PX: [number, number] = [1, 400];

export const stillWater: ContentRecord<StillWaterContent> = {
  fields: {
    surfaceId: id(),
    lengthM: finite().min(PATCH_M[0]).max(PATCH_M[1]),
    widthM: finite().min(PATCH_M[0]).max(PATCH_M[1]),
    mostPx: finite().min(STILL_PX[0]).max(STILL_PX[1]),
  },
  reach: stillReach,
  reads: () => ({ plate: true }),
};
