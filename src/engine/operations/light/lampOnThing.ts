import type { TileRegion } from "../../../core/adjust/spatial";
import { facing, shineOf, type Lamp } from "../../../core/light/lamp";
import { cameraOf } from "../../../document/seatGeometry";
import type { PlateRecord } from "../../../document/records/plateTypes";
import type { PreparedJob } from "../layers/PreparedJob";
import { thingSurface } from "./thingSurface";

/** How much of a lamp's light falls on what is seated by a layer, px by px, over white; null where nothing of it shows. */
export function lampOnThing(job: PreparedJob, plate: PlateRecord, lamp: Lamp, layerId: string, depth: number, where: TileRegion): Float32Array | null {
  const surface = thingSurface(job, plate, layerId, depth, where, lamp.distanceM);
  if (!surface) return null;
  const falls = new Float32Array(where.rect.width * where.rect.height);
  const shine = shineOf(cameraOf(plate, job.inputs), lamp);
  surface((i, n, place) => {
    const { towards, light, sine } = shine(place);
    falls[i] = light * facing(n[0] * towards[0] + n[1] * towards[1] + n[2] * towards[2], sine);
  });
  return falls;
}
