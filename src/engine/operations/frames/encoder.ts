import { encodeSrgb } from "../../../core/color/srgbCurve";
import type { InputColor } from "../../../formats/icc/readProfile";
import type { SampleType } from "../../tiles/RasterStore";

const STEPS = 4096;

/**
 * Code of a source → sRGB-encoded 0..1, for sources that hold light in another way (linear files, floats); null where the codes
 * are close enough to sRGB to be taken as they are. Light above 1 counts as clipped, and so does what is not a number: neither can be compared with
 * other frames.
 */
export function encoderOf(color: InputColor, type: SampleType): ((code: number) => number) | null {
  const top = type === "u8" ? 255 : type === "u16" ? 65535 : 1;
  const curve = color.curves[1];
  if (type !== "f32" && Math.abs(encodeSrgb(curve(0.5)) - 0.5) < 0.06) return null;
  // square roots spread the dark end, where linear codes are few
  const table = Float32Array.from({ length: STEPS + 2 }, (_, i) => encodeSrgb(Math.max(0, curve((i / STEPS) ** 2))));
  return (code) => {
    if (Number.isNaN(code)) return 1;
    const p = Math.sqrt(Math.min(1, Math.max(0, code / top))) * STEPS;
    const i = p | 0;
    return table[i] + (table[i + 1] - table[i]) * (p - i);
  };
}
