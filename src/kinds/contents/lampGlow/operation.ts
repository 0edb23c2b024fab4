import { glowAt } from "../../../core/light/glow";
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
  const columns = Math.ceil((rect.x + rect.width) / APART) + 2;
  const corners = new Map<number, number>();
  const corner = (i: number, j: number): number => {
    const known = corners.get(j * columns + i);
    if (known !== undefined) return known;
    const made = glow(i * APART, j * APART);
    corners.set(j * columns + i, made);
    return made;
  };
  const near = (NEAR * radius + 4 * APART) ** 2;
  for (let y = rect.y; y < rect.y + rect.height; y++) {
    const j = Math.floor(y / APART);
    const v = y / APART - j;
    for (let x = rect.x; x < rect.x + rect.width; x++) {
      const i = Math.floor(x / APART);
      const u = x / APART - i;
      const light =
        (x - cx) ** 2 + (y - cy) ** 2 < near
          ? glow(x, y)
          : (corner(i, j) * (1 - u) + corner(i + 1, j) * u) * (1 - v) + (corner(i, j + 1) * (1 - u) + corner(i + 1, j + 1) * u) * v;
      if (light < LEAST) continue;
      const k = (y - rect.y) * rect.width + x - rect.x;
      for (let c = 0; c < 3; c++) planes[c][k] += light * lamp.color[c];
    }
  }
  return { planes: out, alpha: on.everywhere(scope, backdrop), changes: true };
};
