import type { MeasuredValue } from "../../values";
import type { AdjustmentRecord } from "../fields";

const share = (neutral: number): MeasuredValue => ({ unit: "", neutral, min: -128, max: 128, step: 0.005, digits: 3 });

/** Each channel of linear light as a mix of the three: what a camera's matrix does. */
export const mixture = {
  values: {
    redOfRed: share(1),
    redOfGreen: share(0),
    redOfBlue: share(0),
    greenOfRed: share(0),
    greenOfGreen: share(1),
    greenOfBlue: share(0),
    blueOfRed: share(0),
    blueOfGreen: share(0),
    blueOfBlue: share(1),
  },
} satisfies AdjustmentRecord;
