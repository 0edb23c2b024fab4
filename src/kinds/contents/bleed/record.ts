import { finite, id } from "../../../document/records/fields";
import type { ContentRecord } from "../fields";

/** The light of what lies behind a thing, that a lens lays over its rim as over every edge. */
export interface BleedContent {
  type: "bleed";
  layerId: string;
  /** width of the plate's edges, px from a tenth to nine tenths */
  px: number;
  amount: number;
}

export const BLEED_PX: [number, number] = [0.5, 100];

export const bleed: ContentRecord<BleedContent> = {
  fields: { layerId: id(), px: finite().min(BLEED_PX[0]).max(BLEED_PX[1]), amount: finite().min(0).max(1) },
  reads: ({ layerId }) => ({ seatedId: layerId, below: true }),
};
