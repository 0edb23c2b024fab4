import { readFileSync } from "node:fs";
import { array, number, object, string } from "yup";
import type { Size } from "../core/geometry/lens";
import { stanceThrough } from "../core/seat/upright";
import type { PlateRecord } from "../document/records/plateTypes";

/** What `marsh plate` tells, as far as it is needed here. */
const PLATE = object({
  horizon: array(array(number().required()).length(2).required()).length(2).nullable().defined(),
  focalPx: number().min(1).nullable().defined(),
  cameraHeightM: number().positive().nullable().defined(),
  light: object({
    kind: string().required(),
    azimuthDeg: number().nullable().defined(),
    elevationDeg: number().nullable().defined(),
    sourceDeg: number().nullable().defined(),
    ratioEv: number().nullable().defined(),
    shadowMired: number().nullable().defined(),
  }).required(),
});

/** What is told of a plate. */
export type Told = Partial<Omit<PlateRecord, "kind" | "id" | "setId">>;

/** What `marsh plate --json` printed. @throws Error with a sentence where it is not that */
export function readPlate(path: string, frame: Size): { told: Told; ratioEv: number | null; shadowMired: number | null; sourceDeg: number | null } {
  let json: unknown;
  try {
    json = JSON.parse(readFileSync(path, "utf8"));
  } catch {
    throw new Error(`${path}: it is no JSON that can be read.`);
  }
  if (!PLATE.isValidSync(json)) throw new Error(`${path}: it is not what marsh plate prints.`);
  const { horizon, focalPx, cameraHeightM, light } = json;
  if (!horizon || !focalPx) throw new Error(`${path}: it tells no horizon.`);
  const [left, right] = horizon as [[number, number], [number, number]];
  const stance = stanceThrough(left, right, focalPx, frame);
  const { azimuthDeg, elevationDeg } = light;
  return {
    told: {
      stance,
      horizonBy: "hand",
      ...(cameraHeightM ? { heightM: cameraHeightM, heightBy: "hand" as const } : {}),
      ...(azimuthDeg !== null && elevationDeg !== null && elevationDeg > 0 ? { light: { azimuthDeg, elevationDeg } } : {}),
    },
    ratioEv: light.ratioEv,
    shadowMired: light.shadowMired,
    sourceDeg: light.sourceDeg,
  };
}
