import { shareOfPx } from "../../../core/seat/scenery";
import { smear } from "../../../core/seat/smear";
import { stillPx } from "../../../core/seat/stillWater";
import { sceneryOf } from "../../../document/seatGeometry";
import { plateOf } from "../../../document/selectors";
import { each } from "../../../engine/operations/frames/frameSamples";
import type { ContentOperation } from "../tools";
import type { StillWaterContent } from "./record";

/** Smooths what water shows along its surface, within the water alone: what stands on its bank stays, and gives it nothing. */
export const stillWater: ContentOperation<StillWaterContent> = (on, content, _layer, backdrop, scope) => {
  const { rect, level } = on.where;
  const plate = plateOf(on.job.records);
  const scenery = plate && sceneryOf(plate, on.job.inputs);
  const water = scenery?.stood.find(({ surface }) => surface.id === content.surfaceId);
  if (!scenery || !water) return null;
  const scale = 2 ** level;
  const px = (v: number) => (v + 0.5) * scale - 0.5;
  const isWater = (x: number, y: number) => scenery.at(x, y)?.stood?.surface.id === content.surfaceId;
  const share = new Float32Array(on.n);
  for (let j = 0; j < rect.height; j++) {
    for (let i = 0; i < rect.width; i++) share[j * rect.width + i] = shareOfPx(px(rect.x + i), px(rect.y + j), scale, isWater);
  }
  if (share.every((v) => v === 0)) return null;
  // rows of a plate are nearly equally far away all along
  const xs = water.outline.map((p) => p[0]);
  const column = (Math.min(...xs) + Math.max(...xs)) / 2;
  const rows = Array.from({ length: rect.height }, (_, j) => stillPx(scenery.camera, water.offset, column, px(rect.y + j), content));
  const down = Float64Array.from(rows, (r) => r.down / scale);
  const across = Float64Array.from(rows, (r) => r.across / scale);
  const smooth = (plane: Float32Array) => {
    smear(plane, rect.width, rect.height, "across", across);
    smear(plane, rect.width, rect.height, "down", down);
    return plane;
  };
  const there = smooth(share.slice());
  const out = on.own(backdrop, scope);
  for (const at of each(out)) {
    const plane = on.ctx.kernels.f32(at, on.n);
    const smoothed = smooth(plane.map((v, i) => v * share[i]));
    for (let i = 0; i < on.n; i++) if (share[i] > 0 && there[i] > 1e-4) plane[i] += share[i] * (smoothed[i] / there[i] - plane[i]);
  }
  return { planes: out, alpha: on.everywhere(scope, backdrop), changes: true };
};
