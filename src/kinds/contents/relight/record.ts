import { finite, id } from "../../../document/records/fields";
import type { ContentRecord } from "../fields";
import { LEAST_DEPTH, MOST_DEPTH } from "../lampLight/record";

/** Turns the light on something that is seated from where it came from to where the plate's comes from. */
export interface RelightContent {
  type: "relight";
  layerId: string;
  /** where its own light comes from, in the plate's directions, and light over shade on it, EV; 0: from everywhere */
  azimuthDeg: number;
  elevationDeg: number;
  ratioEv: number;
  /** light over shade of the plate, EV */
  toRatioEv: number;
  depth: number;
  /** how much of it is done */
  amount: number;
}

export const MOST_RATIO_EV = 8;

export const relight: ContentRecord<RelightContent> = {
  fields: {
    layerId: id(),
    azimuthDeg: finite().min(-360).max(360),
    elevationDeg: finite().min(-90).max(90),
    ratioEv: finite().min(0).max(MOST_RATIO_EV),
    toRatioEv: finite().min(0).max(MOST_RATIO_EV),
    depth: finite().min(LEAST_DEPTH).max(MOST_DEPTH),
    amount: finite().min(0).max(1),
  },
  reads: ({ layerId }) => ({ seatedId: layerId }),
};
