import { intersect, rectangleAtLevel } from "../../../core/geometry/rectangle";
import { boundsOf, shareOfPx } from "../../../core/seat/scenery";
import { sceneryOf, standsAt } from "../../../document/seatGeometry";
import { plateOf, seatsOf } from "../../../document/selectors";
import type { PartOperation } from "../tools";
import type { Behind } from "./record";

/** What stands nearer by less than this share hides nothing: a thing stands before the wall that it leans on. */
const SAME = 0.01;

/** 1 where a marked surface stands between the camera and the thing. */
export const behind: PartOperation<Behind> = {
  shape: (on, _part, rect) => {
    const out = new Float32Array(rect.width * rect.height);
    const { records, inputs } = on.job;
    const seat = seatsOf(records).find((s) => s.layerId === on.layer.id);
    const plate = plateOf(records);
    const foot = seat && plate ? standsAt(plate, inputs, seat) : null;
    if (!foot || !plate) return out;
    const scenery = sceneryOf(plate, inputs);
    const square = foot[0] ** 2 + foot[2] ** 2;
    const hides = (x: number, y: number): boolean => {
      const shown = scenery.at(x, y);
      return shown?.stood != null && shown.place[0] * foot[0] + shown.place[2] * foot[2] < (1 - SAME) * square;
    };
    const scale = 2 ** on.level;
    for (const stood of scenery.stood) {
      const within = intersect(rectangleAtLevel(boundsOf(stood), on.level), rect);
      for (let y = within.y; y < within.y + within.height; y++)
        for (let x = within.x; x < within.x + within.width; x++)
          out[(y - rect.y) * rect.width + x - rect.x] = shareOfPx((x + 0.5) * scale - 0.5, (y + 0.5) * scale - 0.5, scale, hides);
    }
    return out;
  },
};
