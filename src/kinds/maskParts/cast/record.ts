import { string } from "yup";
import { finite, id } from "../../../document/records/fields";
import { share } from "../../values";
import type { PartRecord } from "../fields";

/** The light whose shadow is cast: the sun or a lamp, or the sky all around. */
export const CAST_BY = ["sun", "sky"] as const;

/** The shadow on the ground of what a layer shows, as that is seated. */
export interface Cast {
  kind: "cast";
  layerId: string;
  by: (typeof CAST_BY)[number];
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
    sourceDeg: finite().min(0.05).max(MOST_SOURCE_DEG),
    depth: finite().min(0.02).max(3),
  },
  values: {
    sourceDeg: { unit: "°", neutral: 0.53, min: 0.05, max: MOST_SOURCE_DEG, step: 0.05, digits: 2 },
    depth: share(0.6, 0.02, 3),
  },
};
