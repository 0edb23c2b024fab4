import { withLuminance } from "../color/hexColour";
import { WORKING_TO_XYZ } from "../color/primaries";
import { lightXyz } from "../color/whiteBalance";
import { invert, transform } from "../geometry/matrix3";
import type { LampKind } from "./lamp";

/** What a lamp of a kind is until more is said of it: how wide, metres or degrees where it is far; its light on a white surface a metre away, EV over all other light; and the temperature of its colour. Common practice, no source. */
interface Usual {
  isFar: boolean;
  wide: number;
  overEv: number;
  kelvin: number;
}

/** Mean width of the sun and the moon as seen from the ground, degrees. */
const SUN_WIDE_DEG = 0.53;

export const USUAL_LAMPS: Record<LampKind, Usual> = {
  lamp: { isFar: false, wide: 0.2, overEv: 3, kelvin: 2900 },
  window: { isFar: false, wide: 0.9, overEv: 2, kelvin: 3000 },
  screen: { isFar: false, wide: 0.5, overEv: 1, kelvin: 7500 },
  fire: { isFar: false, wide: 0.5, overEv: 3, kelvin: 1900 },
  moon: { isFar: true, wide: SUN_WIDE_DEG, overEv: -1, kelvin: 4100 },
  sun: { isFar: true, wide: SUN_WIDE_DEG, overEv: 2, kelvin: 5500 },
};

const FROM_XYZ = invert(WORKING_TO_XYZ);
/** Light of a temperature as the picture shows it, whose white is D65: red, green, blue, linear, of luminance 1. */
export function colorOfKelvin(kelvin: number): number[] {
  const rgb = transform(FROM_XYZ, lightXyz(1e6 / kelvin, 0)).map((v) => Math.max(0, v));
  return withLuminance(rgb, 1);
}
