import { share, type MeasuredValue } from "../../values";
import type { AdjustmentRecord } from "../fields";

const sigma = (): MeasuredValue => ({ unit: "of 255", neutral: 0, min: 0, max: 60, step: 0.05, digits: 2 });
const beside = (): MeasuredValue => ({ unit: "×", neutral: 1, min: 0, max: 5, step: 0.01, digits: 2 });

export const grain = {
  values: {
    /** deviations of green, 8-bit steps */
    dark: sigma(),
    middle: sigma(),
    light: sigma(),
    /** of red and blue beside green */
    red: beside(),
    blue: beside(),
    /** deviation of the blur of white noise that is as coarse */
    sizePx: { unit: "px", neutral: 0.6, min: 0, max: 8, step: 0.05, digits: 2 },
    /** share of its variance that red, green and blue have together */
    common: share(0.5),
    seed: { unit: "", neutral: 1, min: 1, max: 9999, step: 1, digits: 0 },
  },
} satisfies AdjustmentRecord;
