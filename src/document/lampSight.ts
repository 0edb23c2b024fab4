import type { Size } from "../core/geometry/lens";
import { shineOf } from "../core/light/lamp";
import type { PlateLamp, PlateRecord, SeatRecord } from "./records/plateTypes";
import { lightFromOutline, sidesEv, type OutlineLight } from "../core/seat/outlineLight";
import type { Vector3 } from "../core/panorama/camera";
import { cameraOf, standsAt } from "./seatGeometry";
import { CLEAR_EV } from "./shadowEdits";

/** How much brighter than all else a lamp lights the middle of what is seated, where that faces it, EV; null where it stands nowhere. */
export function overAmbient(plate: PlateRecord, size: Size, lamp: PlateLamp, seat: SeatRecord): number | null {
  const foot = standsAt(plate, size, seat);
  if (!foot) return null;
  const { light } = shineOf(cameraOf(plate, size), lamp)([foot[0], foot[1] + seat.heightM / 2, foot[2]]);
  return Math.log2(light) - (plate.ambientEv ?? 0);
}

/** No thing has its sides further apart: what surrounds it throws light back. Common practice, no source. */
const MOST_EV = 3;

/** Light over shade on what stands in a plate. @param measured on its ground, EV; null: as under a clear sky */
export const ratioThere = (measured: number | null): number => Math.min(MOST_EV, measured ?? CLEAR_EV);

/** Where the light on a thing comes from, and by how much over its shade; from everywhere where its outline tells none. */
export function ownLight(foot: Vector3, told: OutlineLight | "even" | null): { azimuthDeg: number; elevationDeg: number; ratioEv: number } {
  if (!told || told === "even") return { azimuthDeg: 0, elevationDeg: 90, ratioEv: 0 };
  return { ...lightFromOutline(foot, told), ratioEv: Math.min(MOST_EV, sidesEv(told.strength)) };
}
