import { smooth } from "../../../core/masks/shapes";
import { blurReach } from "../../../core/raster/blur";
import type { PartOperation } from "../tools";
import type { Sharpness } from "./record";

/** Sharpness is judged over so many times the size of the detail. Common practice, no source. */
const AROUND = 3;

/** Root mean square, around a place, of log light less its blur: detail up to a size. Judged at the level shown, but no finer than the size. */
export const sharpness: PartOperation<Sharpness> = {
  shape: (on, part, rect) => {
    const sigma = Math.max(0.5, part.sizePx / 2 ** on.level);
    return on.widened(rect, blurReach(sigma) + blurReach(AROUND * sigma), (wide) => {
      const size = { width: wide.width, height: wide.height };
      const light = on.logLight(part.of, wide);
      const { gaussianBlur } = on.ctx.filters;
      const even = gaussianBlur({ ...size, data: light }, sigma);
      const energy = gaussianBlur({ ...size, data: light.map((v, i) => (v - even[i]) ** 2) }, AROUND * sigma);
      return energy.map((v) => smooth((Math.sqrt(Math.max(0, v)) - part.fromEv) / Math.max(1e-6, part.softEv) + 1));
    });
  },
};
