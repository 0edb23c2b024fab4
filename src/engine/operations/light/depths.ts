import type { TileRegion } from "../../../core/adjust/spatial";
import type { Vector3 } from "../../../core/panorama/camera";
import type { GroundCamera } from "../../../core/seat/groundCamera";
import { samplesOf } from "../../../core/seat/castShadow";
import type { Scenery } from "../../../core/seat/scenery";
import type { LayerRecord } from "../../../document/records/layerTypes";
import type { PlateRecord } from "../../../document/records/plateTypes";
import { cameraOf, sceneryOf, standsAt } from "../../../document/seatGeometry";
import { layerOf, seatsOf } from "../../../document/selectors";
import { ownLevel, toPicturePlace } from "../layers/frameLayers";
import type { PreparedJob } from "../layers/PreparedJob";
import { alphaOver } from "../matte/LevelMatte";

/** Something seated that lies below a layer: how far away it stands, metres along the ground, and how much of a px it covers. */
export interface Stands {
  distanceM: number;
  /** the direction it stands in, level and of unit length */
  ahead: Vector3;
  coversAt(x: number, y: number): number;
}

/** How far away what a plate shows is, px by px. */
export interface Depths {
  camera: GroundCamera;
  scenery: Scenery;
  /** nearest first */
  stands: Stands[];
  /** metres along the ray of a px to the ground or to what was marked; `farM` above the horizon, or beyond that */
  plateAt(x: number, y: number): number;
  /** metres along the ray of a px to the plane of something that stands */
  alongRay(stands: Stands, x: number, y: number): number;
}

/** How much of a px of the plate what a layer shows covers, by its matte of a level; null where nothing is cut out. */
export function coverOf(job: PreparedJob, layerId: string, level: number): ((x: number, y: number) => number) | null {
  const layer = layerOf(job.records, layerId);
  if (layer?.content.type !== "frame") return null;
  const own = ownLevel(job, layer.content, level);
  const matte = job.cutouts.get(layerId)?.shownAt(own);
  if (!matte) return null;
  const alpha = alphaOver(matte);
  const { width, height } = matte.rect;
  const [m0, m1, m2, m3, m4, m5, m6, m7, m8] = samplesOf(toPicturePlace(job, layer.content), own, matte.rect);
  return (x, y) => {
    const w = m6 * x + m7 * y + m8;
    const u = (m0 * x + m1 * y + m2) / w;
    const v = (m3 * x + m4 * y + m5) / w;
    if (!(u >= 0 && v >= 0 && u < width - 1 && v < height - 1)) return 0;
    const i = Math.floor(u);
    const j = Math.floor(v);
    const [s, t] = [u - i, v - j];
    const k = j * width + i;
    return (alpha[k] * (1 - s) + alpha[k + 1] * s) * (1 - t) + (alpha[k + width] * (1 - s) + alpha[k + width + 1] * s) * t;
  };
}

/** @param farM where what stands above the horizon is taken to be @param level at which what is seated is looked at */
export function depthsOf(job: PreparedJob, plate: PlateRecord, layer: LayerRecord, { level }: Pick<TileRegion, "level">, farM: number): Depths {
  const [camera, scenery] = [cameraOf(plate, job.inputs), sceneryOf(plate, job.inputs)];
  const stands = seatsOf(job.records).flatMap((seat): Stands[] => {
    const other = layerOf(job.records, seat.layerId);
    const foot = standsAt(plate, job.inputs, seat);
    // what lies over the layer is not in its air
    if (!foot || !other?.visible || other.content.type !== "frame" || other.index > layer.index) return [];
    const coversAt = coverOf(job, seat.layerId, level);
    if (!coversAt) return [];
    const distanceM = camera.distanceTo(foot);
    return [{ distanceM, ahead: [foot[0] / distanceM, 0, foot[2] / distanceM], coversAt }];
  });
  stands.sort((a, b) => a.distanceM - b.distanceM);
  const lengthOf = ([x, y, z]: Vector3): number => Math.sqrt(x * x + (y - camera.heightM) * (y - camera.heightM) + z * z);
  return {
    camera,
    scenery,
    stands,
    plateAt: (x, y) => {
      const shown = scenery.at(x, y);
      return shown ? Math.min(farM, lengthOf(shown.place)) : farM;
    },
    alongRay: ({ distanceM, ahead }, x, y) => {
      const [dx, dy, dz] = camera.rayOf(x, y);
      const forward = dx * ahead[0] + dz * ahead[2];
      return forward > 0 ? (distanceM / forward) * Math.sqrt(dx * dx + dy * dy + dz * dz) : Infinity;
    },
  };
}
