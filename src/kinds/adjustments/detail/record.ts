import { px, share, type MeasuredValues } from "../../values";

export const detail = {
  fine: share(0, -1, 2),
  finePx: px(2, 20),
  middle: share(0, -1, 2),
  middlePx: px(10, 100),
  coarse: share(0, -1, 2),
  coarsePx: px(50, 400),
} as const satisfies MeasuredValues;
