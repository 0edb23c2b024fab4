import { multiply, project, type Matrix3 } from "../core/geometry/matrix3";
import type { Size } from "../core/geometry/lens";
import { remember } from "../core/numeric/remember";
import { dot, unit, type Vector3 } from "../core/panorama/camera";
import { GroundCamera } from "../core/seat/groundCamera";
import { anglesOf, directionOf, lightFromShadows, type LightDirection, type NoLight } from "../core/seat/lightFromShadows";
import { Scenery } from "../core/seat/scenery";
import { LEAST_SCALE, MOST_SCALE, type Moved } from "../kinds/contents/frame/record";
import { movedOf, shownSize } from "./outputGeometry";
import type { PlateRecord, SeatRecord } from "./records/plateTypes";
import type { FrameRecord, Records } from "./records/types";
import { documentSize, layerOf, mergedFramesOf, plateOf } from "./selectors";

/** The camera of a plate over its ground. */
export const cameraOf = (plate: PlateRecord, size: Size): GroundCamera => new GroundCamera(size, plate.stance, plate.heightM);

/** The ground of a plate, and what stands on it. */
export const sceneryOf = (plate: PlateRecord, size: Size): Scenery => new Scenery(cameraOf(plate, size), plate.surfaces);

/** Where a seat's thing stands, metres; null where it does not stand, or its foot is at the horizon or above it. */
export const standsAt = (plate: PlateRecord, size: Size, seat: SeatRecord): Vector3 | null =>
  seat.on === "ground" ? sceneryOf(plate, size).footAt(seat.foot.x, seat.foot.y) : null;

/** The light of plates, by the size of their picture: every rectangle of a shadow asks for it. */
const lights = remember((_plate: PlateRecord) => new Map<string, ReturnType<typeof lightOf>>());

/** Towards the light of a plate: as said, else as its shadows tell; why not, where they do not. */
export function lightOf(plate: PlateRecord, size: Size): LightDirection | NoLight | "overcast" {
  const known = lights(plate);
  const of = `${size.width}×${size.height}`;
  const told = known.get(of) ?? toldLight(plate, size);
  known.set(of, told);
  return told;
}

function toldLight(plate: PlateRecord, size: Size): LightDirection | NoLight | "overcast" {
  if (plate.overcast) return "overcast";
  if (plate.light) {
    const { azimuthDeg, elevationDeg, sigmaDeg = 0 } = plate.light;
    return { azimuthDeg, elevationDeg, sigmaDeg };
  }
  const unsure = { horizonDeg: plate.horizonSigmaDeg, focalShare: plate.focalSigma };
  return lightFromShadows(cameraOf(plate, size), plate.shadows, unsure);
}

/** The light of a plate whose sun is seen at a place of it, px; null where that lies under the horizon. */
export function lightAt(plate: PlateRecord, size: Size, x: number, y: number): { azimuthDeg: number; elevationDeg: number } | null {
  const towards = anglesOf(cameraOf(plate, size).rayOf(x, y));
  return towards.elevationDeg > 0 ? towards : null;
}

/** Where a seat puts what its layer shows; null where its foot stands on no ground, or where it would be too small or too large to be shown. */
export function seatedAt(records: Records, seat: SeatRecord): Moved | null {
  const moved = putBy(records, seat);
  return moved && moved.scale >= LEAST_SCALE && moved.scale <= MOST_SCALE ? moved : null;
}

function putBy(records: Records, seat: SeatRecord): Moved | null {
  const [plate, size, layer] = [plateOf(records), documentSize(records), layerOf(records, seat.layerId)];
  const own = layer?.content.type === "frame" ? shownSize(records, layer.content.frameId) : null;
  if (!plate || !size || !own) return null;
  const isMirrored = layer?.content.type === "frame" && layer.content.moved?.mirrored === true;
  const across = (x: number) => (isMirrored ? own.width - 1 - x : x);
  const { footY, topY } = seat.own;
  const [footX, topX] = [across(seat.own.footX), across(seat.own.topX)];
  const [x, y] = [topX - footX, topY - footY];
  const tall = Math.hypot(x, y);
  const mirrored = isMirrored ? { mirrored: true } : {};
  if (!(tall > 0)) return null;
  if (seat.on === "flat") {
    const plane = planeOf(plate, size, seat);
    if (!plane) return null;
    // px of what it shows → along its foot and up from there, metres
    const m = seat.heightM / (tall * tall);
    const toPlane: Matrix3 = [-m * y, m * x, m * (y * footX - x * footY), m * x, m * y, -m * (x * footX + y * footY), 0, 0, 1];
    return { ...movedOf(multiply(plane, toPlane), size, own), ...mirrored };
  }
  const up = uprightAt(plate, size, seat);
  if (!up) return null;
  // what runs from foot to top of the thing runs straight up in the picture
  const [c, s] = [(up.x * x + up.y * y) / tall ** 2, (up.y * x - up.x * y) / tall ** 2];
  const share = seat.on === "sky" ? 0.5 : 0;
  const foot = { x: seat.foot.x - share * up.x, y: seat.foot.y - share * up.y };
  const moved = movedOf([c, -s, foot.x - c * footX + s * footY, s, c, foot.y - s * footX - c * footY, 0, 0, 1], size, own);
  return { ...moved, corners: [0, 0, 0, 0, 0, 0, 0, 0], ...mirrored };
}

/** Of what lies flat: places of the surface under its foot, metres to its right and up along it, → px; null: none is there. */
function planeOf(plate: PlateRecord, size: Size, { foot, turnDeg = 0 }: SeatRecord): Matrix3 | null {
  const scenery = sceneryOf(plate, size);
  const shown = scenery.at(foot.x, foot.y);
  if (!shown) return null;
  const { place, stood } = shown;
  const wall = stood?.surface.is === "wall" ? stood.normal : null;
  const away = Math.hypot(place[0], place[2]) || 1;
  // as the camera sees it: on a wall to the right of who looks at it, else away from the camera
  const right: Vector3 = wall ? [-wall[2], 0, wall[0]] : [place[2] / away, 0, -place[0] / away];
  const up: Vector3 = wall ? [0, 1, 0] : [place[0] / away, 0, place[2] / away];
  const [c, s] = [Math.cos((turnDeg * Math.PI) / 180), Math.sin((turnDeg * Math.PI) / 180)];
  const along = (p: number, q: number): Vector3 => [0, 1, 2].map((k) => p * right[k] + q * up[k]) as Vector3;
  return scenery.camera.planeMatrix(place, along(c, -s), along(s, c));
}

/** From a foot to the top of what stands there, px; null where there is no ground. */
function uprightAt(plate: PlateRecord, size: Size, seat: SeatRecord): { x: number; y: number } | null {
  const { foot, on, heightM, scale, own } = seat;
  if (on === "flat") {
    const plane = planeOf(plate, size, seat);
    const top = plane && project(plane, 0, heightM);
    return top && { x: top[0] - foot.x, y: top[1] - foot.y };
  }
  const camera = cameraOf(plate, size);
  if (on === "ground") {
    const place = standsAt(plate, size, seat);
    const top = place && camera.pixelOf([place[0], place[1] + heightM, place[2]]);
    return top && { x: top[0] - foot.x, y: top[1] - foot.y };
  }
  const tall = on === "sky" ? skyPx(plate, size, seat) : scale * Math.hypot(own.topX - own.footX, own.topY - own.footY);
  // what stands on nothing keeps the direction that is up in the middle of the picture
  const angle = ((plate.stance.rollDeg + (on === "sky" ? (seat.turnDeg ?? 0) : 0)) * Math.PI) / 180;
  return { x: tall * Math.sin(angle), y: -tall * Math.cos(angle) };
}

/** Mean width of the sun and the moon as seen from the ground, degrees. */
export const SUN_WIDE_DEG = 0.53;

/** How many px of the picture something in the sky takes from its foot to its top: the mean of its widths along and across the radius, which a lens draws apart. */
function skyPx({ stance }: PlateRecord, { width, height }: Size, { foot, wideDeg = SUN_WIDE_DEG, times = 1 }: SeatRecord): number {
  const off = Math.hypot(foot.x - (width - 1) / 2, foot.y - (height - 1) / 2) / stance.focalPx;
  return times * 2 * Math.tan((wideDeg * Math.PI) / 360) * stance.focalPx * (1 + off * off) ** 0.75;
}

/** Where a thing in the sky would turn towards the sun, degrees clockwise from up in the picture, and how much of a ball would be lit there; null without a light. */
export function sunFromSky(plate: PlateRecord, size: Size, { foot }: Pick<SeatRecord, "foot">): { towardsDeg: number; litShare: number } | null {
  const light = lightOf(plate, size);
  if (typeof light === "string") return null;
  const camera = cameraOf(plate, size);
  const at = unit(camera.rayOf(foot.x, foot.y));
  const sun = directionOf(light.azimuthDeg, light.elevationDeg);
  const cosine = dot(at, sun);
  // a little of the way there, along the great circle
  const near = unit([0, 1, 2].map((k) => at[k] + NEAR * (sun[k] - cosine * at[k])) as Vector3);
  const px = camera.pixelOf([near[0], near[1] + camera.heightM, near[2]]);
  if (!px) return null;
  return { towardsDeg: (Math.atan2(px[0] - foot.x, foot.y - px[1]) * 180) / Math.PI, litShare: (1 - cosine) / 2 };
}

/** A step along the sky, radians. */
const NEAR = 1e-4;

/** What is to be read of a seat: how far away it stands, metres, and how tall it is in the picture, px; null where it stands on no ground. */
export function seatFigures(records: Records, seat: SeatRecord): { distanceM: number | null; heightPx: number; byHand: boolean } | null {
  const [plate, size, layer] = [plateOf(records), documentSize(records), layerOf(records, seat.layerId)];
  const up = plate && size && uprightAt(plate, size, seat);
  if (!plate || !size || !up || layer?.content.type !== "frame") return null;
  const place = seat.on === "flat" ? sceneryOf(plate, size).at(seat.foot.x, seat.foot.y)?.place : standsAt(plate, size, seat);
  const byHand = JSON.stringify(layer.content.moved) !== JSON.stringify(seatedAt(records, seat));
  return { distanceM: place ? cameraOf(plate, size).distanceTo(place) : null, heightPx: Math.hypot(up.x, up.y), byHand };
}

/** The picture of its own that a seat's thing comes from; null where its frame is merged, whose px are those of the plate. */
export function sourceOf(records: Records, { layerId }: SeatRecord): FrameRecord | null {
  const content = layerOf(records, layerId)?.content;
  const frame = content?.type === "frame" ? records[content.frameId] : undefined;
  return frame?.kind === "frame" && !mergedFramesOf(records).some((m) => m.frame.id === frame.id) ? frame : null;
}

/**
 * How the camera that took what a seat shows looked at it, beside the plate's: how much higher it stood over the thing's foot, metres, and how many degrees more steeply it looked down on that;
 * null where that is not known, or contradicts its horizon.
 */
export function seenFromBeside(records: Records, seat: SeatRecord): { higherM: number; steeperDeg: number } | null {
  const [plate, size, layer] = [plateOf(records), documentSize(records), layerOf(records, seat.layerId)];
  const own = layer?.content.type === "frame" ? shownSize(records, layer.content.frameId) : null;
  const place = plate && size ? standsAt(plate, size, seat) : null;
  if (!plate || !place || !own || !seat.seenFrom || !sourceOf(records, seat)) return null;
  const { footX, footY, topX, topY } = seat.own;
  const heightM = GroundCamera.heightBy(own, seat.seenFrom, [footX, footY], [topX, topY], seat.heightM);
  const there = heightM === null ? null : new GroundCamera(own, seat.seenFrom, heightM).placeAt(footX, footY);
  if (heightM === null || !there) return null;
  const down = (over: number, [x, , z]: Vector3) => (Math.atan2(over, Math.hypot(x, z)) * 180) / Math.PI;
  const over = plate.heightM - place[1];
  return { higherM: heightM - over, steeperDeg: down(heightM, there) - down(over, place) };
}
