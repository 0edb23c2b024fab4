import { lampInWater as roadOf, shinesEv } from "../../../core/light/lampInWater";
import { shareOfPx } from "../../../core/seat/scenery";
import { lampsOf } from "../../../document/lampEdits";
import { sceneryOf } from "../../../document/seatGeometry";
import { plateOf } from "../../../document/selectors";
import { each } from "../../../engine/operations/frames/frameSamples";
import type { ContentOperation } from "../tools";
import type { LampInWaterContent } from "./record";

/** Less of white is nothing. */
const LEAST = 1e-6;

/** Adds the light of a lamp that water mirrors. */
export const lampInWater: ContentOperation<LampInWaterContent> = (on, { lampId, surfaceId, slope, ev }, _layer, backdrop, scope) => {
  const { rect, level } = on.where;
  const plate = plateOf(on.job.records);
  const lamp = lampsOf(plate).find((l) => l.id === lampId);
  const scenery = plate && sceneryOf(plate, on.job.inputs);
  const water = scenery?.stood.find(({ surface }) => surface.id === surfaceId);
  const road = lamp && scenery && water ? roadOf(scenery.camera, lamp, water.offset, slope, shinesEv(lamp) + ev) : null;
  if (!lamp || !scenery || !road) return null;
  const scale = 2 ** level;
  const isWater = (x: number, y: number) => scenery.at(x, y)?.stood?.surface.id === surfaceId;
  const out = on.own(backdrop, scope);
  const planes = each(out).map((at) => on.ctx.kernels.f32(at, on.n));
  for (let j = 0; j < rect.height; j++) {
    const y = (rect.y + j + 0.5) * scale - 0.5;
    for (let i = 0; i < rect.width; i++) {
      const x = (rect.x + i + 0.5) * scale - 0.5;
      const light = road(x, y);
      if (light < LEAST) continue;
      const share = light * shareOfPx(x, y, scale, isWater);
      for (let c = 0; c < 3; c++) planes[c][j * rect.width + i] += share * lamp.color[c];
    }
  }
  return { planes: out, alpha: on.everywhere(scope, backdrop), changes: true };
};
