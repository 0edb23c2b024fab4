import { keyFillLight, type KeyFill } from "../../../core/light/keyFill";
import { exp2, log2 } from "../../../core/numeric/elementary";
import { directionOf } from "../../../core/seat/lightFromShadows";
import { lightOf } from "../../../document/seatGeometry";
import { plateOf } from "../../../document/selectors";
import { each } from "../../../engine/operations/frames/frameSamples";
import { thingSurface } from "../../../engine/operations/light/thingSurface";
import type { ContentOperation } from "../tools";
import type { RelightContent } from "./record";

/** A picture has no more to give than that, and no less to take, EV: what is in deep shade is noise. */
const MOST_EV = 3;

/** Multiplies what a thing shows by the plate's light on its surface over its own. */
export const relight: ContentOperation<RelightContent> = (on, content, _layer, backdrop, scope) => {
  const plate = plateOf(on.job.records);
  const light = plate && lightOf(plate, on.job.inputs);
  const { layerId, azimuthDeg, elevationDeg, ratioEv, toRatioEv, depth, amount } = content;
  const surface = plate && thingSurface(on.job, plate, layerId, depth, on.where, null);
  if (!surface || !light || (typeof light === "string" && light !== "overcast") || amount === 0) return null;
  // a sky that lights from all sides has no key, whatever its direction
  const towards = typeof light === "string" ? ([0, 1, 0] as KeyFill["towards"]) : directionOf(light.azimuthDeg, light.elevationDeg);
  const to: KeyFill = { towards, ratioEv: typeof light === "string" ? 0 : toRatioEv };
  const from: KeyFill = { towards: directionOf(azimuthDeg, elevationDeg), ratioEv };
  const gains = new Float32Array(on.n).fill(1);
  surface((i, normal) => {
    const turned = log2(keyFillLight(to, normal) / keyFillLight(from, normal));
    gains[i] = exp2(amount * Math.min(MOST_EV, Math.max(-MOST_EV, turned)));
  });
  const out = on.own(backdrop, scope);
  for (const at of each(out)) {
    const plane = on.ctx.kernels.f32(at, on.n);
    for (let i = 0; i < on.n; i++) plane[i] *= gains[i];
  }
  return { planes: out, alpha: on.everywhere(scope, backdrop), changes: true };
};
