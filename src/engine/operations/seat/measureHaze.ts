import { fitHaze, type Air } from "../../../core/air/fitHaze";
import { darkAround, horizonLight, placesByDistance, type HazePlace } from "../../../core/air/hazePlaces";
import { levelOfSide, sizeAtLevel } from "../../../core/geometry/rectangle";
import { horizonEnds } from "../../../core/seat/upright";
import { sceneryOf } from "../../../document/seatGeometry";
import { plateNow } from "../../../document/seatEdits";
import type { Records } from "../../../document/records/types";
import type { EngineContext } from "../../EngineContext";
import type { Task } from "../../task";
import { barePlate } from "./barePlate";

/** Longer side at which a plate is looked at, samples; and how far ground is believed to be what shows there, metres. */
const SIDE = 900;
const GROUND_M = 400;
/** The farthest from its row that the horizon is looked for, of the height. */
const MOST_UNSURE = 0.02;
/** A place that a person marked says as much as so many that ground geometry tells. */
const MARKED = 8;
/** How far off the air's light may be from what shows at the horizon, and from the lightest dark where no horizon is in the picture, ln. Common practice, no source. */
const [HORIZON_SIGMA, UNSEEN_SIGMA] = [0.1, 0.5];

/** Air of a plate, and by how many places that is told. */
export interface MeasuredAir extends Air {
  places: number;
}

/** The air of a plate by its ground and surfaces, and by places whose distance was said; null where too little is told. */
export async function measureHaze(ctx: EngineContext, records: Records, task: Task): Promise<MeasuredAir | null> {
  const record = plateNow(records);
  if (!record) return null;
  const plate = await barePlate(ctx, records, task);
  const level = levelOfSide(plate, SIDE);
  const size = sizeAtLevel(plate.width, plate.height, level);
  const seen = { ...size, planes: plate.read(level, { x: 0, y: 0, ...size }) };
  const [scale, scenery] = [2 ** level, sceneryOf(record, plate)];
  const px = (v: number) => (v + 0.5) * scale - 0.5;
  const distanceAt = (x: number, y: number): number | null => {
    const shown = scenery.at(px(x), px(y));
    // water shows what is mirrored in it
    if (!shown || shown.stood?.surface.is === "water") return null;
    const [dx, dy, dz] = shown.place;
    const metres = Math.hypot(dx, dy - record.heightM, dz);
    return metres <= GROUND_M ? metres : null;
  };
  const marked = (record.hazeMarks ?? []).flatMap(({ x, y, distanceM }): HazePlace[] => {
    const light = darkAround(seen, (x + 0.5) / scale - 0.5, (y + 0.5) / scale - 0.5);
    return light ? [{ distanceM, light, times: MARKED }] : [];
  });
  const places = [...placesByDistance(seen, distanceAt), ...marked];
  if (places.length === 0) return null;
  const [[x0, y0], [x1, y1]] = horizonEnds(record.stance, plate);
  const unsure = (record.horizonSigmaDeg * (Math.PI / 180) * record.stance.focalPx) / scale;
  const light = horizonLight(seen, (x) => (y0 + ((px(x) - x0) / (x1 - x0)) * (y1 - y0) + 0.5) / scale - 0.5, Math.min(MOST_UNSURE * size.height, unsure));
  const farthest = places.reduce((far, place) => (place.distanceM > far.distanceM ? place : far)).light;
  const air = fitHaze(places, light ? { light, sigma: HORIZON_SIGMA } : { light: farthest, sigma: UNSEEN_SIGMA });
  return air && { ...air, places: places.length };
}
