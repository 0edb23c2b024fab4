import { readFileSync } from "node:fs";
import { array, boolean, number, object, string } from "yup";
import { withLuminance } from "../core/color/hexColour";
import { REC2020, REC709, rgbToRgb } from "../core/color/primaries";
import { transform } from "../core/geometry/matrix3";
import { LAMP_KINDS, type LampKind } from "../core/light/lamp";
import { colorOfKelvin, USUAL_LAMPS } from "../core/light/lampKinds";
import { newId } from "../document/edits";
import type { PlateLamp } from "../document/records/plateTypes";

const FROM_SRGB = rgbToRgb(REC709, REC2020);

/** What `--lamps` reads; see docs/cli.md. */
const LAMPS = object({
  ambientEv: number().min(-20).max(20),
  lamps: array(
    object({
      kind: string()
        .oneOf([...LAMP_KINDS])
        .default("lamp"),
      at: array(number().required().min(-1e6).max(1e6)).length(2).required(),
      distanceM: number().positive().max(10_000),
      widthM: number().positive().max(100),
      widthDeg: number().positive().max(180),
      ev: number().min(-20).max(20),
      color: array(number().required().min(0)).length(3),
      kelvin: number().min(1000).max(15_000),
      shown: boolean().default(false),
    }).noUnknown(),
  )
    .required()
    .min(1)
    .max(40),
}).noUnknown();

export interface ToldLamps {
  lamps: PlateLamp[];
  /** null: it is to be measured */
  ambientEv: number | null;
}

/** Lamps as a file tells them; what it does not tell is as usual for their kind. @throws Error with a sentence where it cannot be read */
export function readLamps(path: string): ToldLamps {
  let json: unknown;
  try {
    json = JSON.parse(readFileSync(path, "utf8"));
  } catch {
    throw new Error(`${path}: it is no JSON that can be read.`);
  }
  if (!LAMPS.isValidSync(json, { strict: true })) throw new Error(`${path}: ${whyNot(json)}`);
  const { lamps, ambientEv = null } = LAMPS.cast(json);
  return {
    ambientEv,
    lamps: lamps.map(({ kind, at, distanceM, widthM, widthDeg, ev, color, kelvin, shown }) => {
      const is = kind as LampKind;
      const usual = USUAL_LAMPS[is];
      // what is far away has no metres
      const isFar = distanceM === undefined;
      if (isFar && !usual.isFar) throw new Error(`${path}: a ${is} needs its distanceM.`);
      return {
        ...{ id: newId("lamp"), is, x: at[0], y: at[1], distanceM: isFar ? null : distanceM, isAdded: !shown },
        wide: (isFar ? widthDeg : widthM) ?? usual.wide,
        ev: ev ?? (ambientEv ?? 0) + usual.overEv,
        color: color
          ? withLuminance(
              transform(FROM_SRGB, color).map((v) => Math.max(0, v)),
              1,
            )
          : colorOfKelvin(kelvin ?? usual.kelvin),
      };
    }),
  };
}

function whyNot(json: unknown): string {
  try {
    LAMPS.validateSync(json, { strict: true });
  } catch (error) {
    return `it does not list lamps: ${(error as Error).message}.`;
  }
  return "it does not list lamps.";
}
