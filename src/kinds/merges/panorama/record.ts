import { array, object } from "yup";
import { finite, id } from "../../../document/records/fields";
import type { SeamFacts } from "../../../document/records/panoramaTypes";
import type { MergeKind } from "../fields";

/** Frames that look elsewhere, joined along seams, the most visible first; null before they were made. */
export interface OfPanorama {
  seams: SeamFacts[] | null;
}

export const panorama: MergeKind<OfPanorama> = {
  fields: {
    seams: array(
      object({
        aId: id(),
        bId: id(),
        lengthPx: finite().min(0),
        deltaE: finite().min(0),
        worst: object({ x: finite(), y: finite(), deltaE: finite() }).required(),
      }),
    )
      .nullable()
      .defined()
      .max(2000),
  },
  fresh: () => ({ seams: null }),
  suits: { panorama: 1 },
  looksElsewhere: true,
};
