import { message } from "../messages/message";
import { adaptation, D65, REC2020, REC709, rgbToXyz, xyzOfChromaticity, type Primaries } from "../core/color/primaries";
import { invert, multiply } from "../core/geometry/matrix3";
import { FormatError } from "./formatError";

/** Whether primaries that a file states are those of Rec. 709, as closely as files state them. */
export function areRec709(own: Primaries): boolean {
  return (["red", "green", "blue", "white"] as const).every((k) => own[k].every((v, i) => Math.abs(v - REC709[k][i]) < 5e-4));
}

/**
 * Matrix from linear light of primaries of a file's own to working light; another white is adapted to D65. @param own null for Rec. 709
 * @throws FormatError where they span no colours
 */
export function fromPrimaries(own: Primaries | null, format: string): { name: string; toWorking: number[] } {
  const primaries = own ?? REC709;
  try {
    const toXyz = multiply(adaptation(xyzOfChromaticity(primaries.white), xyzOfChromaticity(D65)), rgbToXyz(primaries));
    const toWorking = multiply(invert(rgbToXyz(REC2020)), toXyz);
    if (!toWorking.every(Number.isFinite)) throw new RangeError("no colours");
    return { name: areRec709(primaries) ? "linear Rec. 709" : "linear, primaries of its own", toWorking };
  } catch {
    throw new FormatError("damaged", message("profile.noColours", { format }));
  }
}
