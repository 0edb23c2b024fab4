import { blurReach } from "../../../core/raster/blur";
import { coveredBy } from "../../../engine/operations/masks/paintedPlane";
import type { PartOperation } from "../tools";
import type { Soften } from "./record";

/** Blurs a mask where strokes were painted. */
export const soften: PartOperation<Soften> = {
  over: (on, part, rect, values, before) => {
    const covered = coveredBy(on, part, 0, rect);
    if (!covered?.some((v) => v > 0)) return;
    const sigma = part.sigmaPx / 2 ** on.level;
    const blurred = on.widened(rect, blurReach(sigma), (wide) =>
      on.ctx.filters.gaussianBlur({ width: wide.width, height: wide.height, data: before(wide) }, sigma),
    );
    for (let i = 0; i < values.length; i++) values[i] += covered[i] * (blurred[i] - values[i]);
  },
  reach: ({ sigmaPx }) => blurReach(sigmaPx),
};
