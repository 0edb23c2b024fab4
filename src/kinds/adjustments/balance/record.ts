import type { AdjustmentRecord } from "../fields";
import { duv, mired } from "../../values";

export const balance = {
  values: {
    darkMired: mired(),
    darkDuv: duv(),
    middleMired: mired(),
    middleDuv: duv(),
    lightMired: mired(),
    lightDuv: duv(),
  },
  amounts: ["darkMired", "darkDuv", "middleMired", "middleDuv", "lightMired", "lightDuv"],
} satisfies AdjustmentRecord;
