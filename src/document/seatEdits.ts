import type { Size } from "../core/geometry/lens";
import { GroundCamera } from "../core/seat/groundCamera";
import { anglesOf, lightFromShadows, type LightDirection, type NoLight } from "../core/seat/lightFromShadows";
import type { Stance } from "../core/seat/upright";
import type { KnownFocal } from "../core/seat/fitStance";
import type { Moved } from "../kinds/contents/frame/record";
import { newId, put, updateRecord, without, type Edit } from "./edits";
import { isShadowOf, removeLayer } from "./removal";
import { updateLayer } from "./layerEdits";
import { movedOf, shownSize } from "./outputGeometry";
import type { PlateRecord, SeatRecord } from "./records/plateTypes";
import type { FrameRecord, Records } from "./records/types";
import { documentSize, framesOf, layerOf, layersOf, plateOf, registrationOf, seatsOf, workingSetIdOf } from "./selectors";

/** Diagonal of a frame of 24×36 mm, to which focal lengths are converted. @see CIPA DCG-001 */
const DIAGONAL_35_MM = Math.hypot(24, 36);
/** Noted focal lengths are whole mm, and lenses are not what they are called. Common practice, no source. */
const NOTED_SIGMA = 0.02;
/** Where nothing is told: a lens as wide as the picture is long, held level at the height of the eyes. Common practice, no source. */
const GUESSED = { focalShare: 1, focalSigma: 0.35, horizonSigmaDeg: 10, heightM: 1.6 };
/** Height of a thing that nobody said, metres. */
const GUESSED_HEIGHT_M = 1;

/** The frame whose px those of the plate are. */
export const plateFrame = (records: Records): FrameRecord | undefined => framesOf(records).find((f) => f.id === registrationOf(records)?.referenceId);

/** What a camera noted of its lens, px of its frame; null where it noted nothing. */
export function notedFocal({ focalLength35Mm, width, height }: Pick<FrameRecord, "focalLength35Mm" | "width" | "height">): KnownFocal | null {
  return focalLength35Mm
    ? { px: (focalLength35Mm / DIAGONAL_35_MM) * Math.hypot(width, height), sigma: Math.hypot(NOTED_SIGMA, 0.29 / focalLength35Mm) }
    : null;
}

/** The plate of the set worked on as it is before anything is known of it; null where there is no picture. */
export function guessedPlate(records: Records): PlateRecord | null {
  const size = documentSize(records);
  const frame = plateFrame(records);
  if (!size || !frame) return null;
  const setId = workingSetIdOf(records);
  const noted = notedFocal(frame);
  const focalPx = noted?.px ?? GUESSED.focalShare * Math.max(size.width, size.height);
  return {
    kind: "plate",
    id: `plate-${setId}`,
    setId,
    stance: { pitchDeg: 0, rollDeg: 0, focalPx },
    horizonBy: "guess",
    focalBy: noted ? "metadata" : "guess",
    horizonSigmaDeg: GUESSED.horizonSigmaDeg,
    focalSigma: noted?.sigma ?? GUESSED.focalSigma,
    heightM: GUESSED.heightM,
    heightBy: "guess",
    vanishing: [],
    lines: [],
    shadows: [],
    light: null,
    overcast: false,
  };
}

/** The camera of a plate over its ground. */
export const cameraOf = (plate: PlateRecord, size: Size): GroundCamera => new GroundCamera(size, plate.stance, plate.heightM);

/** Towards the light of a plate: as said, else as its shadows tell; why not, where they do not. */
export function lightOf(plate: PlateRecord, size: Size): LightDirection | NoLight | "overcast" {
  if (plate.overcast) return "overcast";
  if (plate.light) return { ...plate.light, sigmaDeg: 0 };
  const unsure = { horizonDeg: plate.horizonSigmaDeg, focalShare: plate.focalSigma };
  return lightFromShadows(cameraOf(plate, size), plate.shadows, unsure);
}

/** The light of a plate whose sun is seen at a place of it, px; null where that lies under the horizon. */
export function lightAt(plate: PlateRecord, size: Size, x: number, y: number): { azimuthDeg: number; elevationDeg: number } | null {
  const towards = anglesOf(cameraOf(plate, size).rayOf(x, y));
  return towards.elevationDeg > 0 ? towards : null;
}

/** Says something of the plate; what stands on its ground follows. */
export function tellPlate(change: Partial<Omit<PlateRecord, "kind" | "id" | "setId">>): Edit {
  return (records) => {
    const plate = plateOf(records) ?? guessedPlate(records);
    return plate ? reseated(put(records, { ...plate, ...withHeight({ ...plate, ...change }, documentSize(records)!) })) : records;
  };
}

/** How sure a horizon is that a hand pulled, degrees (1 standard deviation). Common practice, no source. */
const PULLED_SIGMA_DEG = 0.5;

/** A horizon as a person pulled it; what lines said of it goes. */
export const pulledHorizon = (stance: Stance): Edit => tellPlate({ stance, horizonBy: "hand", horizonSigmaDeg: PULLED_SIGMA_DEG, vanishing: [] });

/** A plate with the height of its camera as known lengths tell it: their median, where there are any. */
function withHeight(plate: PlateRecord, size: Size): PlateRecord {
  const heights = plate.lines.flatMap(({ is, x0, y0, x1, y1, metres }) => {
    if (is === "length") return GroundCamera.heightByLength(size, plate.stance, [x0, y0], [x1, y1], metres) ?? [];
    // the lower end is the foot
    const [foot, top] = y0 > y1 ? [[x0, y0] as const, [x1, y1] as const] : [[x1, y1] as const, [x0, y0] as const];
    return is === "height" ? (GroundCamera.heightBy(size, plate.stance, foot, top, metres) ?? []) : [];
  });
  heights.sort((a, b) => a - b);
  if (heights.length) return { ...plate, heightM: heights[heights.length >> 1], heightBy: "length" };
  return plate.heightBy === "length" ? { ...plate, heightBy: "guess" } : plate;
}

/** Seats what a layer shows. @param own its foot and its top, px of what the layer shows @param foot where it is to stand, px of the picture */
export function addSeat(layerId: string, own: SeatRecord["own"], foot: SeatRecord["foot"], id = newId("seat")): Edit {
  return (records) => {
    if (layerOf(records, layerId)?.content.type !== "frame" || seatsOf(records).some((s) => s.layerId === layerId)) return records;
    const plate = plateOf(records) ?? guessedPlate(records);
    if (!plate) return records;
    const setId = workingSetIdOf(records);
    const seat: SeatRecord = { kind: "seat", id, setId, layerId, foot, own, heightM: GUESSED_HEIGHT_M, heightBy: "guess", on: "ground", scale: 1 };
    return seated(put(records, plate, seat), id);
  };
}

/** Says something of a seat; its layer follows. */
export function changeSeat(id: string, change: Partial<Pick<SeatRecord, "foot" | "own" | "heightM" | "heightBy" | "on" | "scale">>): Edit {
  return (records) => seated(updateRecord<SeatRecord>(id, change)(records), id);
}

/** Turns what a seat shows left for right, on its foot; so does light that falls on it. */
export const mirrorSeat =
  (id: string): Edit =>
  (records) => {
    const seat = records[id];
    const layer = seat?.kind === "seat" ? layerOf(records, seat.layerId) : undefined;
    if (layer?.content.type !== "frame" || layer.locked || !layer.content.moved) return records;
    const { mirrored, ...moved } = layer.content.moved;
    const turned = { ...layer.content, moved: { ...moved, ...(mirrored ? {} : { mirrored: true }) }, fit: null };
    return seated(updateLayer(layer.id, { content: turned })(records), id);
  };

/** A layer that is not seated any more stays where it lies; its shadow goes. */
export const removeSeat =
  (id: string): Edit =>
  (records) => {
    const seat = records[id];
    const shadows = seat?.kind === "seat" ? layersOf(records).filter((l) => isShadowOf(l, seat.layerId)) : [];
    return without(
      shadows.reduce((r, l) => removeLayer(l.id)(r), records),
      [id],
    );
  };

/** All that is seated, as the plate is by now. */
const reseated = (records: Records): Records => seatsOf(records).reduce((r, { id }) => seated(r, id), records);

/** A job with the layer of a seat where that says; as it is where its foot cannot stand there, or where the layer is locked. */
function seated(records: Records, id: string): Records {
  const seat = records[id];
  const moved = seat?.kind === "seat" ? seatedAt(records, seat) : null;
  const layer = seat?.kind === "seat" ? layerOf(records, seat.layerId) : undefined;
  if (!moved || layer?.content.type !== "frame" || layer.locked) return records;
  return updateLayer(layer.id, { content: { ...layer.content, moved, fit: null } })(records);
}

/** Where a seat puts what its layer shows; null where its foot stands on no ground. */
export function seatedAt(records: Records, seat: SeatRecord): Moved | null {
  const [plate, size, layer] = [plateOf(records), documentSize(records), layerOf(records, seat.layerId)];
  const own = layer?.content.type === "frame" ? shownSize(records, layer.content.frameId) : null;
  if (!plate || !size || !own) return null;
  const isMirrored = layer?.content.type === "frame" && layer.content.moved?.mirrored === true;
  const across = (x: number) => (isMirrored ? own.width - 1 - x : x);
  const { footY, topY } = seat.own;
  const [footX, topX] = [across(seat.own.footX), across(seat.own.topX)];
  const [x, y] = [topX - footX, topY - footY];
  const tall = Math.hypot(x, y);
  const up = uprightAt(plate, size, seat);
  if (!up || !(tall > 0)) return null;
  // what runs from foot to top of the thing runs straight up in the picture
  const [c, s] = [(up.x * x + up.y * y) / tall ** 2, (up.y * x - up.x * y) / tall ** 2];
  const { foot } = seat;
  const moved = movedOf([c, -s, foot.x - c * footX + s * footY, s, c, foot.y - s * footX - c * footY, 0, 0, 1], size, own);
  return { ...moved, corners: [0, 0, 0, 0, 0, 0, 0, 0], ...(isMirrored ? { mirrored: true } : {}) };
}

/** From a foot straight up to the top of what stands there, px; null where there is no ground. */
function uprightAt(plate: PlateRecord, size: Size, { foot, on, heightM, scale, own }: SeatRecord): { x: number; y: number } | null {
  const camera = cameraOf(plate, size);
  const place = camera.placeAt(foot.x, foot.y);
  const top = place && camera.pixelOf([place[0], heightM, place[2]]);
  if (on === "ground") return top && { x: top[0] - foot.x, y: top[1] - foot.y };
  const tall = scale * Math.hypot(own.topX - own.footX, own.topY - own.footY);
  // what floats keeps the direction that is up in the middle of the picture
  const roll = (plate.stance.rollDeg * Math.PI) / 180;
  return { x: tall * Math.sin(roll), y: -tall * Math.cos(roll) };
}

/** What is to be read of a seat: how far away it stands, metres, and how tall it is in the picture, px; null where it stands on no ground. */
export function seatFigures(records: Records, seat: SeatRecord): { distanceM: number | null; heightPx: number; byHand: boolean } | null {
  const [plate, size, layer] = [plateOf(records), documentSize(records), layerOf(records, seat.layerId)];
  const up = plate && size && uprightAt(plate, size, seat);
  if (!plate || !size || !up || layer?.content.type !== "frame") return null;
  const camera = cameraOf(plate, size);
  const place = seat.on === "ground" ? camera.placeAt(seat.foot.x, seat.foot.y) : null;
  const byHand = JSON.stringify(layer.content.moved) !== JSON.stringify(seatedAt(records, seat));
  return { distanceM: place && camera.distanceTo(place), heightPx: Math.hypot(up.x, up.y), byHand };
}
