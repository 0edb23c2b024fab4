import type { Size } from "../core/geometry/lens";
import { shineOf } from "../core/light/lamp";
import type { PlateLamp, PlateRecord, SeatRecord } from "./records/plateTypes";
import { cameraOf, standsAt } from "./seatGeometry";

/** How much brighter than all else a lamp lights the middle of what is seated, where that faces it, EV; null where it stands nowhere. */
export function overAmbient(plate: PlateRecord, size: Size, lamp: PlateLamp, seat: SeatRecord): number | null {
  const foot = standsAt(plate, size, seat);
  if (!foot) return null;
  const { light } = shineOf(cameraOf(plate, size), lamp)([foot[0], foot[1] + seat.heightM / 2, foot[2]]);
  return Math.log2(light) - (plate.ambientEv ?? 0);
}
