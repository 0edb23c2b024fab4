import { LUMINANCE } from "../../../core/color/primaries";
import { levelOfSide, sizeAtLevel } from "../../../core/geometry/rectangle";
import { project } from "../../../core/geometry/matrix3";
import type { Vector3 } from "../../../core/panorama/camera";
import type { GroundCamera } from "../../../core/seat/groundCamera";
import { boundsOf, type Scenery, type Shown } from "../../../core/seat/scenery";
import { mirroredFar, mirroredIn, rippleSlope } from "../../../core/seat/water";
import type { Records } from "../../../document/records/types";
import type { SeatRecord } from "../../../document/records/plateTypes";
import { sceneryOf, seatFigures, standsAt } from "../../../document/seatGeometry";
import { documentSize, plateOf } from "../../../document/selectors";
import type { ReflectionContent } from "../../../kinds/contents/reflection/record";
import type { BarePlate } from "./barePlate";

/** What a reflection is laid by; the slope is null where the plate's own tell none. */
export type WaterFigures = Pick<ReflectionContent, "surfaceId" | "sky"> & { slope: number | null };

/** Where a thing is mirrored. */
interface WaterPlace {
  scenery: Scenery;
  water: NonNullable<Shown["stood"]>;
  /** px of the mirrored foot and top */
  foot: [number, number];
  top: [number, number];
}

/** Places along a thing's mirror image that are asked for water, and of the sky that it covers. */
const ALONG = 24;
/** Longest side of the plate as it is looked at for its sky, samples, and for its ripples. */
const [SKY_SIDE, SHORE_SIDE] = [400, 1600];
/** Columns of a shore that are compared, to either side of the thing, and the most rows. */
const COLUMNS = 48;
const MOST_ROWS = 160;

/** The water under a seat's thing, where its mirror image would be; null where none was marked. */
export function waterPlace(records: Records, seatId: string): WaterPlace | null {
  const [seat, plate, size] = [records[seatId], plateOf(records), documentSize(records)];
  if (seat?.kind !== "seat" || !plate || !size) return null;
  const scenery = sceneryOf(plate, size);
  const foot = standsAt(plate, size, seat);
  const ends = foot ? standing(scenery.camera, seat, foot) : seat.on === "sky" ? inSky(records, seat) : null;
  if (!ends) return null;
  const waters = scenery.stood.filter(({ surface, offset }) => surface.is === "water" && (!foot || offset <= foot[1]));
  const found = waters.flatMap((water) => {
    const mirror = foot ? mirroredIn(scenery.camera, foot, water.offset) : mirroredFar(scenery.camera);
    const [low, high] = ends.map(([x, y]) => project(mirror, x, y));
    const along = Array.from({ length: ALONG }, (_, k) => [0, 1].map((i) => low[i] + ((k + 0.5) / ALONG) * (high[i] - low[i])));
    const wet = along.filter(([x, y]) => scenery.at(x, y)?.stood === water).length;
    return wet ? [{ scenery, water, foot: low, top: high, wet }] : [];
  });
  return found.sort((a, b) => b.wet - a.wet)[0] ?? null;
}

/** Px of the foot and the top of what stands; null behind the camera. */
function standing(camera: GroundCamera, { foot, heightM }: SeatRecord, place: Vector3): [number, number][] | null {
  const top = camera.pixelOf([place[0], place[1] + heightM, place[2]]);
  return top && [[foot.x, foot.y], top];
}

/** Px of the lower and the upper rim of what is in the sky, straight down and up from its middle. */
function inSky(records: Records, seat: SeatRecord): [number, number][] | null {
  const tall = seatFigures(records, seat)?.heightPx;
  return tall
    ? [
        [seat.foot.x, seat.foot.y + tall / 2],
        [seat.foot.x, seat.foot.y - tall / 2],
      ]
    : null;
}

/** What the water shows there: the sky that it mirrors, linear, and its ripples. */
export function waterUnder(place: WaterPlace, plate: BarePlate): WaterFigures {
  return { surfaceId: place.water.surface.id, sky: skyOf(place, plate), slope: slopeOf(place, plate) };
}

/** The mean of what stands where the water's mirror image of far things comes from; beyond the top of the picture, of its upper edge. */
function skyOf({ scenery, water, foot, top }: WaterPlace, plate: BarePlate): number[] {
  const level = Math.max(0, levelOfSide(plate, SKY_SIDE));
  const { width, height } = sizeAtLevel(plate.width, plate.height, level);
  const planes = plate.read(level, { x: 0, y: 0, width, height });
  const { camera } = scenery;
  const sums = [0, 0, 0];
  let count = 0;
  for (let k = 0; k < ALONG; k++) {
    const [x, y] = [0, 1].map((i) => foot[i] + ((k + 0.5) / ALONG) * (top[i] - foot[i]));
    if (scenery.at(x, y)?.stood !== water) continue;
    const [dx, dy, dz] = camera.rayOf(x, y);
    const at = camera.pixelOf([dx, camera.heightM - dy, dz]);
    if (!at) continue;
    const [i, j] = [at[0], at[1]].map((v, axis) => Math.min([width, height][axis] - 1, Math.max(0, Math.round((v + 0.5) / 2 ** level - 0.5))));
    planes.forEach((plane, c) => (sums[c] += plane[j * width + i]));
    count++;
  }
  return sums.map((s) => (count ? s / count : 0));
}

/** The slope of ripples by the shore beside a thing and its mirror image; null where they do not tell. */
function slopeOf({ scenery, water, foot }: WaterPlace, plate: BarePlate): number | null {
  const level = Math.max(0, levelOfSide(plate, SHORE_SIDE));
  const s = 2 ** level;
  const bounds = boundsOf(water);
  const size = sizeAtLevel(plate.width, plate.height, level);
  const columns = Array.from({ length: 2 * COLUMNS + 1 }, (_, c) => Math.round(foot[0] / s) + c - COLUMNS).filter((x) => x >= 0 && x < size.width);
  // the highest px of the water in a column is its shore
  const shores = columns.map((x) => {
    for (let y = Math.max(0, Math.floor(bounds.y / s)); y < Math.min(size.height, (bounds.y + bounds.height) / s); y++)
      if (scenery.at((x + 0.5) * s - 0.5, (y + 0.5) * s - 0.5)?.stood === water) return y;
    return null;
  });
  const known = shores.filter((y): y is number => y !== null);
  if (known.length === 0) return null;
  const middle = known[known.length >> 1];
  const lowest = known.reduce((a, b) => Math.max(a, b), 0);
  const highest = known.reduce((a, b) => Math.min(a, b), size.height);
  const rows = Math.min(MOST_ROWS, highest, size.height - lowest, Math.floor((bounds.y + bounds.height) / s) - lowest);
  if (rows <= 0) return null;
  const rect = { x: columns[0], y: highest - rows, width: columns.at(-1)! - columns[0] + 1, height: lowest - highest + 2 * rows };
  const planes = plate.read(level, rect);
  const light = (x: number, y: number) => LUMINANCE.reduce((sum, w, c) => sum + w * planes[c][(y - rect.y) * rect.width + x - rect.x], 0);
  const strips = columns.flatMap((x, c) => {
    const y0 = shores[c];
    if (y0 === null) return [];
    return [[Float64Array.from({ length: rows }, (_, k) => light(x, y0 - 1 - k)), Float64Array.from({ length: rows }, (_, k) => light(x, y0 + k))]];
  });
  const away = (row: number) => {
    const at = scenery.placeOn(water, foot[0], (row + 0.5) * s - 0.5);
    return at ? scenery.camera.distanceTo(at) : Infinity;
  };
  const edge = away(middle);
  const above = strips.map((p) => p[0]);
  const below = strips.map((p) => p[1]);
  return rippleSlope(above, below, scenery.camera.stance.focalPx / s, (k) => (Number.isFinite(edge) ? 1 - away(middle + k) / edge : 0));
}
