import { smooth } from "../../../core/masks/shapes";
import { blurReach } from "../../../core/raster/blur";
import { cameraOf, standsAt } from "../../../document/seatGeometry";
import { plateOf, seatsOf } from "../../../document/selectors";
import type { PartOperation } from "../tools";
import type { Sunk } from "./record";

/** What blades stand out from is even over so many of their widths. Common practice, no source. */
const AROUND = 4;
/** What stands out by less than this does not, EV; and by how many times the usual it counts, at most. */
const LEAST_EV = 0.02;
const MOST_TIMES = 1.5;
/** How softly a thing goes under, of how uneven the blades are, and at least, px of the level. */
const SOFT = 0.35;
const LEAST_SOFT = 0.7;

/** 1 under the blades: up to a height over the foot that is greater where a blade of the plate is brighter than what is around it. */
export const sunk: PartOperation<Sunk> = {
  shape: (on, { depthCm, roughCm, bladeCm }, rect) => {
    const { records, inputs } = on.job;
    const seat = seatsOf(records).find((s) => s.layerId === on.layer.id);
    const plate = plateOf(records);
    const foot = seat && plate ? standsAt(plate, inputs, seat) : null;
    const metre = foot && cameraOf(plate!, inputs).pixelOf([foot[0], foot[1] + 1, foot[2]]);
    if (!seat || !foot || !metre) return new Float32Array(rect.width * rect.height);
    const [ux, uy] = [metre[0] - seat.foot.x, metre[1] - seat.foot.y];
    const perMetre = Math.hypot(ux, uy);
    const scale = 2 ** on.level;
    const sigma = Math.max(0.5, ((bladeCm / 100) * perMetre) / scale / 2);
    return on.widened(rect, blurReach(AROUND * sigma) + blurReach(sigma), (wide) => {
      const size = { width: wide.width, height: wide.height };
      const { gaussianBlur } = on.ctx.filters;
      const light = on.logLight(null, wide);
      const fine = gaussianBlur({ ...size, data: light }, sigma / 2);
      const even = gaussianBlur({ ...size, data: light }, AROUND * sigma);
      const usual = gaussianBlur({ ...size, data: fine.map((v, i) => (v - even[i]) ** 2) }, AROUND * sigma);
      const soft = Math.max((SOFT * roughCm) / 100, (LEAST_SOFT * scale) / perMetre);
      return fine.map((v, i) => {
        const [x, y] = [(wide.x + (i % wide.width) + 0.5) * scale - 0.5, (wide.y + Math.floor(i / wide.width) + 0.5) * scale - 0.5];
        const over = ((x - seat.foot.x) * ux + (y - seat.foot.y) * uy) / (perMetre * perMetre);
        const times = (v - even[i]) / Math.max(LEAST_EV, Math.sqrt(Math.max(0, usual[i])));
        const reaches = (depthCm + roughCm * Math.max(-MOST_TIMES, Math.min(MOST_TIMES, times))) / 100;
        return smooth((reaches - over) / soft + 0.5);
      });
    });
  },
};
