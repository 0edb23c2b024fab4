import { enlargement, lineOffDeg, straightenBy, type GuideLine, type Straightened } from "../core/geometry/tilt";
import { invert } from "../core/geometry/matrix3";
import { upOf } from "../core/seat/upright";
import { setGeometry, type Edit } from "./edits";
import { outputGeometry, outputToReference } from "./outputGeometry";
import type { Records } from "./records/types";
import { plateNow } from "./seatEdits";
import { documentSize, geometryOf, plateOf } from "./selectors";
import { validCrop } from "./validCrop";

const RAD = Math.PI / 180;

/** How the picture and its camera are turned now, degrees. */
export function turnNow(records: Records): Straightened {
  const { angleDeg, tilt } = outputGeometry(records);
  return { angleDeg, pitchDeg: tilt?.pitchDeg ?? 0, yawDeg: tilt?.yawDeg ?? 0 };
}

/** Turns the picture and its camera, with the largest crop that holds no empty pixel. @param lines that tell it, if others than now */
export function turnTo({ angleDeg, pitchDeg, yawDeg }: Straightened, ratio: number | null, lines?: GuideLine[]): Edit {
  return (records) => {
    const tilt = tiltOf(records, pitchDeg, yawDeg);
    return setGeometry({ angleDeg, tilt, crop: validCrop(records, { angleDeg, tilt }, ratio), ratio, ...(lines ? { lines } : {}) })(records);
  };
}

/** A turn of the camera with the lens that the plate is known to have. */
export const tiltOf = (records: Records, pitchDeg: number, yawDeg: number) =>
  pitchDeg === 0 && yawDeg === 0 ? undefined : { pitchDeg, yawDeg, focalPx: geometryOf(records)?.tilt?.focalPx ?? plateNow(records)?.stance.focalPx ?? 1 };

/** Px as shot → px turned so. */
const mapFor = (records: Records) => {
  const size = documentSize(records)!;
  const crop = { x: 0, y: 0, ...size };
  return ({ angleDeg, pitchDeg, yawDeg }: Straightened) => invert(outputToReference({ angleDeg, tilt: tiltOf(records, pitchDeg, yawDeg), crop }, size));
};

/** Turns the picture by lines that are said to be upright or level; unchanged where they contradict what a camera can do. */
export function straightenByLines(lines: GuideLine[]): Edit {
  return (records) => {
    const turn = straightenBy(lines, mapFor(records));
    if (!turn && lines.length > 0) return records;
    const rounded = ({ angleDeg, pitchDeg, yawDeg }: Straightened) => ({ angleDeg: round(angleDeg), pitchDeg: round(pitchDeg), yawDeg: round(yawDeg) });
    return turnTo(turn ? rounded(turn) : { angleDeg: 0, pitchDeg: 0, yawDeg: 0 }, geometryOf(records)?.ratio ?? null, lines)(records);
  };
}

const round = (deg: number) => Math.round(deg * 100) / 100;

/** How far each line is from what it is said to be as the picture is turned now, degrees. */
export const linesLeft = (records: Records): number[] => {
  const map = mapFor(records)(turnNow(records));
  return (geometryOf(records)?.lines ?? []).map((line) => lineOffDeg(map, line));
};

/** How the picture would be turned by the horizon of its plate; null where that was not told. */
export function turnByPlate(records: Records): Straightened | null {
  const plate = plateOf(records);
  if (!plate || plate.horizonBy === "guess") return null;
  const [x, y, z] = upOf(plate.stance);
  const pitch = Math.atan2(z, -y);
  return { angleDeg: -Math.atan2(x, Math.hypot(y, z)) / RAD, pitchDeg: pitch / RAD, yawDeg: 0 };
}

/** What a turn and a crop cost: the share of the field that is kept, and by how much px are drawn apart where it is most. */
export function costOfTurn(records: Records): { kept: number; apart: number } {
  const size = documentSize(records)!;
  const geometry = outputGeometry(records);
  const { crop } = geometry;
  const map = outputToReference(geometry, size);
  const PLACES = 24;
  let [kept, least] = [0, Infinity];
  for (let j = 0; j <= PLACES; j++) {
    for (let i = 0; i <= PLACES; i++) {
      const area = enlargement(map, (i / PLACES) * (crop.width - 1), (j / PLACES) * (crop.height - 1));
      // trapezoids: half a place at each border
      kept += area * (i % PLACES ? 1 : 0.5) * (j % PLACES ? 1 : 0.5);
      least = Math.min(least, area);
    }
  }
  return { kept: (kept * crop.width * crop.height) / (PLACES * PLACES * size.width * size.height), apart: 1 / Math.sqrt(least) };
}
