import { glowAt } from "../../../core/light/glow";
import { between } from "../../../core/raster/between";
import { lampRadiusPx } from "../../../core/light/lamp";
import { lampsOf } from "../../../document/lampEdits";
import { cameraOf } from "../../../document/seatGeometry";
import { plateOf } from "../../../document/selectors";
import { each } from "../../../engine/operations/frames/frameSamples";
import type { ContentOperation } from "../tools";
import type { LampGlowContent } from "./record";

/** Samples between places whose glow is found; nearer than so many radii each is found by itself. */
const APART = 4;
const NEAR = 2;
/** Less than that of white is nothing. */
const LEAST = 1e-6;

/** Adds the light that spreads around a lamp. */
export const lampGlow: ContentOperation<LampGlowContent> = (on, { lampId, ...spread }, _layer, backdrop, scope) => {
  const plate = plateOf(on.job.records);
  const lamp = lampsOf(plate).find((l) => l.id === lampId);
  if (!plate || !lamp) return null;
  const { rect, level } = on.where;
  const scale = 2 ** level;
  const radius = lampRadiusPx(cameraOf(plate, on.job.inputs), lamp) / scale;
  const [cx, cy] = [(lamp.x + 0.5) / scale - 0.5, (lamp.y + 0.5) / scale - 0.5];
  const glow = (x: number, y: number): number => glowAt(spread, Math.sqrt((x - cx) ** 2 + (y - cy) ** 2) / radius);
  const out = on.own(backdrop, scope);
  const planes = each(out).map((at) => on.ctx.kernels.f32(at, on.n));
  const around = between(APART, glow);
  const near = (NEAR * radius + 4 * APART) ** 2;
  for (let y = rect.y; y < rect.y + rect.height; y++) {
    for (let x = rect.x; x < rect.x + rect.width; x++) {
      const light = (x - cx) ** 2 + (y - cy) ** 2 < near ? glow(x, y) : around(x, y);
      if (light < LEAST) continue;
      const k = (y - rect.y) * rect.width + x - rect.x;
      for (let c = 0; c < 3; c++) planes[c][k] += light * lamp.color[c];
    }
  }
  return { planes: out, alpha: on.everywhere(scope, backdrop), changes: true };
};
