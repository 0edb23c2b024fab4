import { lampPlace, type Lamp } from "../../../core/light/lamp";
import { exp2 } from "../../../core/numeric/elementary";
import { unit, type Vector3 } from "../../../core/panorama/camera";
import { castShadow, discDirections, lampPlaces, samplesOf, skyDirections, type NearSource } from "../../../core/seat/castShadow";
import type { GroundCamera } from "../../../core/seat/groundCamera";
import { twoFeet } from "../../../core/seat/feet";
import type { Body } from "../../../core/seat/standing";
import { extentOf, volumeOf } from "../../../core/seat/volume";
import { directionOf } from "../../../core/seat/lightFromShadows";
import { remember } from "../../../core/numeric/remember";
import { lampsOf } from "../../../document/lampEdits";
import { cameraOf, lightOf, sceneryOf, standsAt } from "../../../document/seatGeometry";
import { layerOf, plateOf, seatsOf } from "../../../document/selectors";
import { lampOnPlate } from "../../../engine/operations/light/lampOnPlate";
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
  shape: ({ job, level }, { layerId, by, lampId, sourceDeg, depth }, rect) => {
    const none = () => new Float32Array(rect.width * rect.height);
    const { records, inputs } = job;
    const [layer, plate, cutter] = [layerOf(records, layerId), plateOf(records), job.cutouts.get(layerId)];
    const seat = seatsOf(records).find((s) => s.layerId === layerId);
    if (!plate || !cutter || !seat || layer?.content.type !== "frame") return none();
    const foot = standsAt(plate, inputs, seat);
    const lamp = by === "lamp" ? lampsOf(plate).find((l) => l.id === lampId) : undefined;
    const source = foot && (by === "lamp" ? lamp && lampSource(cameraOf(plate, inputs), lamp, foot) : sourceOf(by, lightOf(plate, inputs), sourceDeg));
    if (!foot || !source) return none();
    const own = ownLevel(job, layer.content, level);
    const matte = cutter.shownAt(own);
    if (!matte) return none();
    const body: Body = { ...coverOf(matte), toSamples: samplesOf(toPicturePlace(job, layer.content), own, matte.rect), depth };
    const hidden = castShadow(sceneryOf(plate, inputs), foot, body, source, level, rect);
    if (!lamp || lamp.isAdded) return hidden;
    // the plate shows other light there as well, which stays
    const ambient = exp2(plate.ambientEv ?? 0);
    const falls = lampOnPlate(job, plate, lamp, level, rect);
    return hidden.map((v, i) => (v * falls[i]) / (falls[i] + ambient));
  },
};

/** Directions towards the plate's light, or the sky; null where it has none. */
function sourceOf(by: "sun" | "sky", light: ReturnType<typeof lightOf>, sourceDeg: number): Vector3[] | null {
  if (by === "sky") return skyDirections();
  return typeof light === "string" ? null : discDirections(directionOf(light.azimuthDeg, light.elevationDeg), sourceDeg);
}

/** Directions towards a lamp that is far away, else places of it; null where it is under the ground. */
function lampSource(camera: GroundCamera, lamp: Lamp, foot: Vector3): Vector3[] | NearSource | null {
  const at = lampPlace(camera, lamp);
  if (at) return at[1] > foot[1] ? lampPlaces(at, lamp.wide / 2, foot) : null;
  const towards = unit(camera.rayOf(lamp.x, lamp.y));
  return towards[1] > 0 ? discDirections(towards, lamp.wide) : null;
}
