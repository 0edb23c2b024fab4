import { castShadow, discDirections, samplesOf, skyDirections } from "../../../core/seat/castShadow";
import { twoFeet } from "../../../core/seat/feet";
import type { Body } from "../../../core/seat/standing";
import { extentOf, volumeOf } from "../../../core/seat/volume";
import { directionOf } from "../../../core/seat/lightFromShadows";
import { remember } from "../../../core/numeric/remember";
import { lightOf, sceneryOf, standsAt } from "../../../document/seatGeometry";
import { layerOf, plateOf, seatsOf } from "../../../document/selectors";
import { ownLevel, toPicturePlace } from "../../../engine/operations/layers/frameLayers";
import { eachInFront, type FreedMatte } from "../../../engine/operations/matte/LevelMatte";
import type { PartOperation } from "../tools";
import type { Cast } from "./record";

/** What is cut out, as samples of its own rectangle. */
const coverOf = remember((matte: FreedMatte): Omit<Body, "toSamples" | "depth"> => {
  const alpha = new Float32Array(matte.rect.width * matte.rect.height);
  eachInFront(matte, matte.rect, (i, value) => (alpha[i] = value));
  const { width, height } = matte.rect;
  const extent = extentOf(alpha, width, height);
  return { alpha, width, height, extent, feet: twoFeet(alpha, width, extent), volume: volumeOf(alpha, width, height) };
});

export const cast: PartOperation<Cast> = {
  shape: ({ job, level }, { layerId, by, sourceDeg, depth }, rect) => {
    const none = () => new Float32Array(rect.width * rect.height);
    const { records, inputs } = job;
    const [layer, plate, cutter] = [layerOf(records, layerId), plateOf(records), job.cutouts.get(layerId)];
    const seat = seatsOf(records).find((s) => s.layerId === layerId);
    if (!plate || !cutter || !seat || layer?.content.type !== "frame") return none();
    const foot = standsAt(plate, inputs, seat);
    const light = by === "sky" ? "sky" : lightOf(plate, inputs);
    if (!foot || (typeof light === "string" && light !== "sky")) return none();
    const own = ownLevel(job, layer.content, level);
    const matte = cutter.shownAt(own);
    if (!matte) return none();
    const body: Body = { ...coverOf(matte), toSamples: samplesOf(toPicturePlace(job, layer.content), own, matte.rect), depth };
    const directions = light === "sky" ? skyDirections() : discDirections(directionOf(light.azimuthDeg, light.elevationDeg), sourceDeg);
    return castShadow(sceneryOf(plate, inputs), foot, body, directions, level, rect);
  },
};
