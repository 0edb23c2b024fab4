import { exp2 } from "../../../core/numeric/elementary";
import { lampsOf } from "../../../document/lampEdits";
import { plateOf } from "../../../document/selectors";
import { each } from "../../../engine/operations/frames/frameSamples";
import { lampOnPlate } from "../../../engine/operations/light/lampOnPlate";
import { lampOnThing } from "../../../engine/operations/light/lampOnThing";
import type { ContentOperation } from "../tools";
import type { LampLightContent } from "./record";

/** Adds what a lamp makes of what is there, which shows in the light of all else. */
export const lampLight: ContentOperation<LampLightContent> = (on, { lampId, layerId, depth, times }, _layer, backdrop, scope) => {
  const plate = plateOf(on.job.records);
  const lamp = lampsOf(plate).find((l) => l.id === lampId);
  if (!plate || !lamp || times === 0) return null;
  const falls = layerId === null ? lampOnPlate(on.job, plate, lamp, on.where.level, on.where.rect) : lampOnThing(on.job, plate, lamp, layerId, depth, on.where);
  if (!falls) return null;
  const gain = times / exp2(plate.ambientEv ?? 0);
  const out = on.own(backdrop, scope);
  each(out).forEach((at, c) => {
    const plane = on.ctx.kernels.f32(at, on.n);
    const share = gain * lamp.color[c];
    for (let i = 0; i < on.n; i++) plane[i] *= 1 + share * falls[i];
  });
  return { planes: out, alpha: on.everywhere(scope, backdrop), changes: true };
};
