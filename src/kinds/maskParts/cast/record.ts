import { string } from "yup";
import { finite, id } from "../../../document/records/fields";
import { share } from "../../values";
import type { PartRecord } from "../fields";

/** The light whose shadow is cast: the plate's, which is the sun mostly, the sky all around, or a lamp of it. */
export const CAST_BY = ["sun", "sky", "lamp"] as const;

/** The shadow on the ground of what a layer shows, as that is seated. */
export interface Cast {
  kind: "cast";
  layerId: string;
  by: (typeof CAST_BY)[number];
  /** by which lamp */
  lampId?: string;
  /** width of the light as seen from there, degrees */
  sourceDeg: number;
  /** how deep the thing is, as a share of how wide */
  depth: number;
}

export const MOST_SOURCE_DEG = 60;

export const cast: PartRecord<Cast> = {
  fields: {
    layerId: id(),
    by: string()
      .oneOf([...CAST_BY])
      .required(),
    lampId: string().max(100),
    sourceDeg: finite().min(0.05).max(MOST_SOURCE_DEG),
    depth: finite().min(0.02).max(3),
  },
  values: {
    sourceDeg: { unit: "°", neutral: 0.53, min: 0.05, max: MOST_SOURCE_DEG, step: 0.05, digits: 2 },
    depth: share(0.6, 0.02, 3),
  },
};
