import { depthBlurReach, type Lens } from "../../../core/air/depthBlur";
import { finite } from "../../../document/records/fields";
import type { ContentRecord } from "../fields";

/** All that lies below, out of focus by how far away it is: the plate and what is seated in it. */
export interface DepthOfFieldContent extends Lens {
  type: "depthOfField";
  /** how far away what shows above the horizon is taken to be, metres */
  farM: number;
}

export const FOCUS_M: [number, number] = [0.2, 1000];
export const DISC_PX: [number, number] = [0, 80];

export const depthOfField: ContentRecord<DepthOfFieldContent> = {
  fields: {
    focusM: finite().min(FOCUS_M[0]).max(FOCUS_M[1]),
    radiusPx: finite().min(DISC_PX[0]).max(DISC_PX[1]),
    farM: finite().min(1).max(100_000),
  },
  reach: depthBlurReach,
  reads: () => ({ seated: true }),
};
