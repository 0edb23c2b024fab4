import { choice, share, times } from "../../values";
import type { AdjustmentRecord } from "../fields";

export const chroma = {
  values: {
    factor: times(),
    protect: share(0.5),
    /** 0 chroma in Oklch, 1 distance from luminance in linear light, without protection */
    space: choice(0, 2),
  },
  amounts: ["factor"],
} satisfies AdjustmentRecord;
