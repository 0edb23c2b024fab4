import { intersect, type Rectangle } from "../../../core/geometry/rectangle";
import { directionOf } from "../../../core/seat/lightFromShadows";
import type { Records } from "../../../document/records/types";
import { cameraOf, lightOf, standsAt } from "../../../document/seatGeometry";
import { documentSize, plateOf } from "../../../document/selectors";

/** Longest side that is looked at, samples: coarse ones even out what the ground is made of. */
const SIDE = 320;
/** How far around a shadow is looked, of its length. */
const AROUND = 0.8;

/** The ground around the shadow of what a seat shows; null where there is none. @returns a rectangle of a level, and which of its samples show ground */
export function groundAround(records: Records, seatId: string): { level: number; rect: Rectangle; isGround: (i: number) => boolean } | null {
  const [seat, plate, size] = [records[seatId], plateOf(records), documentSize(records)];
  if (seat?.kind !== "seat" || !plate || !size) return null;
  const camera = cameraOf(plate, size);
  const foot = standsAt(plate, size, seat);
  const light = lightOf(plate, size);
  if (!foot || typeof light === "string") return null;
  const d = directionOf(light.azimuthDeg, light.elevationDeg);
  const tip = [foot[0] - (d[0] / d[1]) * seat.heightM, foot[2] - (d[2] / d[1]) * seat.heightM];
  const reach = AROUND * Math.hypot(tip[0] - foot[0], tip[1] - foot[2]);
  const corners = [[foot[0], foot[2]], tip].flatMap(([x, z]) =>
    [-1, 1].flatMap((a) => [-1, 1].map((b) => camera.pixelOf([x + a * reach, foot[1], Math.max(0.3, z + b * reach)]))),
  );
  const [xs, ys] = [0, 1].map((k) => corners.flatMap((c) => c?.[k] ?? []));
  const bounds = {
    x: Math.floor(Math.min(...xs)),
    y: Math.floor(Math.min(...ys)),
    width: Math.ceil(Math.max(...xs) - Math.min(...xs)),
    height: Math.ceil(Math.max(...ys) - Math.min(...ys)),
  };
  const around = intersect(bounds, { x: 0, y: 0, ...size });
  if (around.width < 2 || around.height < 2) return null;
  const level = Math.max(0, Math.ceil(Math.log2(Math.max(around.width, around.height) / SIDE)));
  const s = 2 ** level;
  const rect = {
    x: Math.floor(around.x / s),
    y: Math.floor(around.y / s),
    width: Math.max(1, Math.floor(around.width / s)),
    height: Math.max(1, Math.floor(around.height / s)),
  };
  return { level, rect, isGround: (i) => camera.placeAt((rect.x + (i % rect.width)) * s, (rect.y + Math.floor(i / rect.width)) * s) !== null };
}
