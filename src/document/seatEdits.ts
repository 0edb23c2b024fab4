import type { Size } from "../core/geometry/lens";
import { GroundCamera } from "../core/seat/groundCamera";
import { sunByDate, type Whereabouts } from "../core/seat/sunByDate";
import type { Stance } from "../core/seat/upright";
import type { KnownFocal } from "../core/seat/fitStance";
import { newId, put, updateRecord, without, type Edit } from "./edits";
import { followsSeat, removeLayer } from "./removal";
import { updateLayer } from "./layerEdits";
import { seatedAt } from "./seatGeometry";
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

/** The plate as it is known, or guessed where nothing is; null where there is no picture. */
export const plateNow = (records: Records): PlateRecord | null => plateOf(records) ?? guessedPlate(records);

/** How well people know where a camera looked, degrees (1 standard deviation). Common practice, no source. */
const HEADING_SIGMA_DEG = 5;

/** Takes the light from where the sun stood; where it was under the horizon, only what was said of that is kept. */
export function lightByDate(whereabouts: Whereabouts): Edit {
  const sun = sunByDate(whereabouts);
  return sun && sun.elevationDeg > 0
    ? tellPlate({ whereabouts, light: { ...sun, by: "date", sigmaDeg: HEADING_SIGMA_DEG }, overcast: false })
    : tellPlate({ whereabouts });
}

/** Says something of the plate; what stands on its ground follows. */
export function tellPlate(change: Partial<Omit<PlateRecord, "kind" | "id" | "setId">>): Edit {
  return (records) => {
    const plate = plateNow(records);
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
    const plate = plateNow(records);
    if (!plate) return records;
    const setId = workingSetIdOf(records);
    const seat: SeatRecord = { kind: "seat", id, setId, layerId, foot, own, heightM: GUESSED_HEIGHT_M, heightBy: "guess", on: "ground", scale: 1 };
    return seated(put(records, plate, seat), id);
  };
}

/** Says something of a seat; its layer follows. */
export function changeSeat(
  id: string,
  change: Partial<Pick<SeatRecord, "foot" | "own" | "heightM" | "heightBy" | "on" | "scale" | "wideDeg" | "times" | "turnDeg" | "seenFrom">>,
): Edit {
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
    const shadows = seat?.kind === "seat" ? layersOf(records).filter((l) => followsSeat(l, seat.layerId)) : [];
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
