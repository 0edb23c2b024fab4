import { detailReach } from "../../../core/adjust/spatial";
import type { AdjustmentRecord } from "../fields";
import { px, share } from "../../values";

export const detail = {
  values: {
    fine: share(0, -1, 2),
    finePx: px(2, 20),
    middle: share(0, -1, 2),
    middlePx: px(10, 100),
    coarse: share(0, -1, 2),
    coarsePx: px(50, 400),
  },
  amounts: ["fine", "middle", "coarse"],
  reach: detailReach,
} satisfies AdjustmentRecord;
