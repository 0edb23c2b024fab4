import type { TileRegion } from "../../../core/adjust/spatial";
import { project } from "../../../core/geometry/matrix3";
import { beyond, facingAt, inflate, type Facing } from "../../../core/light/inflate";
import { remember } from "../../../core/numeric/remember";
import type { Vector3 } from "../../../core/panorama/camera";
import { samplesOf } from "../../../core/seat/castShadow";
import { cameraOf, standsAt } from "../../../document/seatGeometry";
import type { PlateRecord } from "../../../document/records/plateTypes";
import { layerOf, seatsOf } from "../../../document/selectors";
import { ownLevel, toPicturePlace } from "../layers/frameLayers";
import type { PreparedJob } from "../layers/PreparedJob";
import { alphaOver, type FreedMatte } from "../matte/LevelMatte";

/** What is told of each px in which something shows: its number in the rectangle, which way it faces, of unit length, and where it is, metres; both are used again for the next. */
type Visit = (i: number, normal: Vector3, place: Vector3) => void;

/** The surface of what is cut out, blown up from its outline. */
const facingOf = remember((matte: FreedMatte): Facing => inflate(alphaOver(matte), matte.rect.width, matte.rect.height));

/** How far away something that stands nowhere is taken to be, metres: as far as the lamp that lights it, where that is known. */
const SOMEWHERE_M = 5;

/**
 * Goes over the surface of what is seated by a layer and a little beyond, in a rectangle of a level; null where nothing of it shows, and of what is flat or in the sky. What stands on the ground is in the upright plane through its foot, all else that far away.
 * @param depth of each limb, as a share of how wide it is @param awayM of what stands nowhere
 */
export function thingSurface(
  job: PreparedJob,
  plate: PlateRecord,
  layerId: string,
  depth: number,
  { level, rect }: TileRegion,
  awayM: number | null,
): ((visit: Visit) => void) | null {
  const [layer, cutter, seat] = [layerOf(job.records, layerId), job.cutouts.get(layerId), seatsOf(job.records).find((s) => s.layerId === layerId)];
  if (layer?.content.type !== "frame" || !cutter || !seat || seat.on === "sky" || seat.on === "flat") return null;
  const own = ownLevel(job, layer.content, level);
  const matte = cutter.shownAt(own);
  if (!matte) return null;
  const facing = facingOf(matte);
  const toPlate = toPicturePlace(job, layer.content);
  const toSamples = samplesOf(toPlate, own, matte.rect);
  const { width, height } = matte.rect;
  // how the thing is turned, and left for right, in the middle of it
  const middle = [matte.rect.x + width / 2, matte.rect.y + height / 2].map((v) => v * 2 ** own);
  const [at, beside, below] = [project(toPlate, middle[0], middle[1]), project(toPlate, middle[0] + 1, middle[1]), project(toPlate, middle[0], middle[1] + 1)];
  const [ax, ay, bx, by] = [beside[0] - at[0], beside[1] - at[1], below[0] - at[0], below[1] - at[1]];
  const size = Math.sqrt(Math.abs(ax * by - ay * bx)) || 1;

  const camera = cameraOf(plate, job.inputs);
  const foot = standsAt(plate, job.inputs, seat);
  const away = foot ? camera.distanceTo(foot) : (awayM ?? SOMEWHERE_M);
  const ahead: Vector3 = foot ? [foot[0] / away, 0, foot[2] / away] : levelOf(camera.rayOf(at[0], at[1]));
  const [first, right, down] = [camera.rayOf(0, 0), camera.rayOf(1, 0), camera.rayOf(0, 1)];
  const [rx, ry, rz] = [right[0] - first[0], right[1] - first[1], right[2] - first[2]];
  const [dx, dy, dz] = [down[0] - first[0], down[1] - first[1], down[2] - first[2]];
  const scale = 2 ** level;
  const margin = beyond(facing);
  const [m0, m1, m2, m3, m4, m5, m6, m7, m8] = toSamples;

  return (visit) => {
    const seen = new Float64Array(3);
    const normal: Vector3 = [0, 0, 0];
    const place: Vector3 = [0, 0, 0];
    for (let j = 0; j < rect.height; j++) {
      const y = (rect.y + j + 0.5) * scale - 0.5;
      for (let i = 0; i < rect.width; i++) {
        const x = (rect.x + i + 0.5) * scale - 0.5;
        const w = m6 * x + m7 * y + m8;
        const sx = (m0 * x + m1 * y + m2) / w;
        const sy = (m3 * x + m4 * y + m5) / w;
        if (!(sx > -margin && sy > -margin && sx < width + margin && sy < height + margin)) continue;
        facingAt(facing, sx, sy, depth, seen);
        // as the picture shows it
        const nx = (seen[0] * ax + seen[1] * bx) / size;
        const ny = (seen[0] * ay + seen[1] * by) / size;
        // along the ray of the px, and square to that
        let vx = first[0] + x * rx + y * dx;
        let vy = first[1] + x * ry + y * dy;
        let vz = first[2] + x * rz + y * dz;
        const forward = vx * ahead[0] + vz * ahead[2];
        if (!(forward > 0)) continue;
        const t = away / forward;
        place[0] = t * vx;
        place[1] = camera.heightM + t * vy;
        place[2] = t * vz;
        const length = Math.sqrt(vx * vx + vy * vy + vz * vz);
        vx /= length;
        vy /= length;
        vz /= length;
        const along = rx * vx + ry * vy + rz * vz;
        let ux = rx - along * vx;
        let uy = ry - along * vy;
        let uz = rz - along * vz;
        const u = Math.sqrt(ux * ux + uy * uy + uz * uz);
        ux /= u;
        uy /= u;
        uz /= u;
        // down is square to both
        const ex = vy * uz - vz * uy;
        const ey = vz * ux - vx * uz;
        const ez = vx * uy - vy * ux;
        const sign = ex * dx + ey * dy + ez * dz > 0 ? 1 : -1;
        normal[0] = nx * ux + sign * ny * ex - seen[2] * vx;
        normal[1] = nx * uy + sign * ny * ey - seen[2] * vy;
        normal[2] = nx * uz + sign * ny * ez - seen[2] * vz;
        visit(j * rect.width + i, normal, place);
      }
    }
  };
}

function levelOf([x, , z]: Vector3): Vector3 {
  const length = Math.sqrt(x * x + z * z) || 1;
  return [x / length, 0, z / length];
}
