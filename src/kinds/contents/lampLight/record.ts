import { finite, id } from "../../../document/records/fields";
import { string } from "yup";
import type { ContentRecord } from "../fields";

/** What a lamp of the plate lights: something that is seated, or the plate's own ground and surfaces. */
export interface LampLightContent {
  type: "lampLight";
  lampId: string;
  /** the layer whose thing it falls on; null: the plate */
  layerId: string | null;
  /** how deep the thing is, as a share of how wide each of its limbs is */
  depth: number;
  /** times as much as the lamp is said to give */
  times: number;
}

export const [LEAST_DEPTH, MOST_DEPTH] = [0.05, 3];
export const MOST_TIMES = 8;

export const lampLight: ContentRecord<LampLightContent> = {
  fields: {
    lampId: id(),
    layerId: string().nullable().defined().max(100),
    depth: finite().min(LEAST_DEPTH).max(MOST_DEPTH),
    times: finite().min(0).max(MOST_TIMES),
  },
  reads: ({ layerId }) => (layerId === null ? { plate: true } : { seatedId: layerId }),
};
