import { object } from "yup";
import { finite, share } from "../../../document/records/fields";
import { place } from "../../maskParts/fields";
import { ANY_SIZE, type ContentRecord } from "../fields";

/** sRGB-encoded, 0..1 */
export interface Colour {
  red: number;
  green: number;
  blue: number;
}

/** The colour that another turns into between two places, reference px. */
export interface ColourRamp extends Colour {
  x0: number;
  y0: number;
  x1: number;
  y1: number;
}

/** One colour, or two along a ramp, with grain of a standard deviation (encoded) and a size in px. */
export interface FillContent extends Colour {
  type: "fill";
  grain: number;
  grainPx: number;
  ramp: ColourRamp | null;
}

const colour = { red: share(), green: share(), blue: share() };

export const fill: ContentRecord<FillContent> = {
  fields: {
    ...colour,
    ramp: object({ ...colour, x0: place(), y0: place(), x1: place(), y1: place() })
      .nullable()
      .defined(),
    grain: share(),
    grainPx: finite().min(0.5).max(200),
  },
  finestPx: ({ grain, grainPx }) => (grain > 0 ? grainPx : ANY_SIZE),
};
