import { duv, mired, type MeasuredValues } from "../../values";

export const balance = {
  darkMired: mired(),
  darkDuv: duv(),
  middleMired: mired(),
  middleDuv: duv(),
  lightMired: mired(),
  lightDuv: duv(),
} as const satisfies MeasuredValues;
