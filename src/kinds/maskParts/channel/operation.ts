import { encodeSrgb } from "../../../core/color/srgbCurve";
import { smooth } from "../../../core/masks/shapes";
import type { PartOperation } from "../tools";
import type { Channel } from "./record";

export const channel: PartOperation<Channel> = {
  shape: (on, part, rect) => {
    const span = part.high - part.low || 1e-6;
    return on.light(part.of, rect)[part.channel].map((v) => smooth((encodeSrgb(Math.min(1, Math.max(0, v))) - part.low) / span));
  },
};
