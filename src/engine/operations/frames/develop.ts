import { whiteBalanceMatrix } from "../../../core/color/whiteBalance";
import { multiply } from "../../../core/geometry/matrix3";
import { exp2, pow } from "../../../core/numeric/elementary";
import type { Development } from "../../../document/records/types";
import type { InputColor } from "../../../formats/icc/readProfile";
import type { DerivedCache } from "../../graph/DerivedCache";
import { derivedColor } from "./derivedColor";

/** The colour of a source as developed: its tone response, white balance and EV offset, in working RGB. */
export function developedColor(cache: DerivedCache, color: InputColor, development: Development): InputColor {
  const { exposureEv, mired, duv, tone } = development;
  if (exposureEv === 0 && mired === 0 && duv === 0 && tone === 1) return color;
  return derivedColor(cache, color, ["developed", exposureEv, mired, duv, tone], () => {
    const gain = exp2(exposureEv);
    const balanced = multiply(whiteBalanceMatrix(mired, duv), color.toWorking).map((v) => v * gain);
    return { ...color, name: `${color.name}, developed`, toWorking: balanced, curves: toned(color.curves, tone) };
  });
}

/** Curves followed by an exponent on linear light; channels that share a curve go on sharing it. */
function toned(curves: InputColor["curves"], exponent: number): InputColor["curves"] {
  if (exponent === 1) return curves;
  const made = new Map(curves.map((curve) => [curve, (v: number) => pow(Math.max(0, curve(v)), exponent)]));
  return curves.map((curve) => made.get(curve)!) as InputColor["curves"];
}
