import { hueBand } from "../../../core/adjust/colour";
import type { PartOperation } from "../tools";
import type { Hue } from "./record";

export const hue: PartOperation<Hue> = {
  shape: (on, part, rect) => {
    const shareOf = hueBand(part.hueDeg, part.widthDeg, part.leastChroma);
    const [, a, b] = on.oklab(part.of, rect);
    return a.map((v, i) => shareOf(v, b[i]));
  },
};
