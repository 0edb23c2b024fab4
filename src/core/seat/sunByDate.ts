import { Body, Equator, Horizon, Observer } from "astronomy-engine";
import { turn } from "./outlineLight";

/** When and where a picture was taken, and where its camera looked. */
export interface Whereabouts {
  /** as a clock there showed it, YYYY-MM-DDTHH:MM */
  clock: string;
  /** hours of that clock over UTC */
  overUtcH: number;
  /** north and east are positive */
  latitudeDeg: number;
  longitudeDeg: number;
  /** of the middle of the picture, clockwise from true north */
  headingDeg: number;
}

/** The moment of a clock; null where it shows none. */
export function momentOf({ clock, overUtcH }: Pick<Whereabouts, "clock" | "overUtcH">): Date | null {
  const ms = Date.parse(`${clock}Z`);
  return Number.isFinite(ms) ? new Date(ms - overUtcH * 3_600_000) : null;
}

/**
 * Towards the sun, from straight ahead of the camera; where it stands under the horizon its elevation is negative.
 * @returns null where the clock shows no time
 */
export function sunByDate(of: Whereabouts): { azimuthDeg: number; elevationDeg: number } | null {
  const moment = momentOf(of);
  if (!moment) return null;
  const observer = new Observer(of.latitudeDeg, of.longitudeDeg, 0);
  const { ra, dec } = Equator(Body.Sun, moment, observer, true, true);
  const { azimuth, altitude } = Horizon(moment, observer, ra, dec, "normal");
  return { azimuthDeg: turn(of.headingDeg, azimuth), elevationDeg: altitude };
}
