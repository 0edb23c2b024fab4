import { whiteBalanceMatrix } from "../../core/color/whiteBalance";
import { multiply } from "../../core/geometry/matrix3";
import { exp2 } from "../../core/numeric/elementary";
import type { Development } from "../../document/records/types";
import type { InputColor } from "../../formats/icc/readProfile";

const kept = new WeakMap<InputColor, Map<string, InputColor>>();

/** The colour of a source as developed: its white balance and its EV offset, in working RGB. The same object for the same values. */
export function developedColor(color: InputColor, development: Development): InputColor {
  const { exposureEv, mired, duv } = development;
  if (exposureEv === 0 && mired === 0 && duv === 0) return color;
  const of = kept.get(color) ?? new Map<string, InputColor>();
  kept.set(color, of);
  const key = JSON.stringify([exposureEv, mired, duv]);
  const known = of.get(key);
  if (known) return known;
  const gain = exp2(exposureEv);
  const balanced = multiply(whiteBalanceMatrix(mired, duv), color.toWorking).map((v) => v * gain);
  const made: InputColor = { ...color, name: `${color.name}, developed`, toWorking: balanced };
  of.set(key, made);
  return made;
}
