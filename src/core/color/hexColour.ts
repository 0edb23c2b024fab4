import { transform } from "../geometry/matrix3";
import { LUMINANCE, REC2020, REC709, rgbToRgb } from "./primaries";
import { decodeSrgb, encodeSrgb } from "./srgbCurve";

const [TO_SRGB, FROM_SRGB] = [rgbToRgb(REC2020, REC709), rgbToRgb(REC709, REC2020)];

/** Luminance of working light. */
export const luminanceOf = (rgb: readonly number[]): number => LUMINANCE.reduce((sum, w, c) => sum + w * rgb[c], 0);

/** The same colour with a luminance; grey where it has none. */
export function withLuminance(rgb: readonly number[], luminance: number): number[] {
  const own = luminanceOf(rgb);
  return own > 0 ? rgb.map((v) => (v * luminance) / own) : [luminance, luminance, luminance];
}

/** Working light as a screen shows its colour, as bright as that can be: #rrggbb. */
export function hexOfLight(rgb: readonly number[]): string {
  const shown = transform(TO_SRGB, rgb).map((v) => Math.max(0, v));
  const most = Math.max(...shown, 1e-9);
  return `#${shown
    .map((v) =>
      Math.round(255 * encodeSrgb(v / most))
        .toString(16)
        .padStart(2, "0"),
    )
    .join("")}`;
}

/** Working light of a colour of a screen. */
export const lightOfHex = (hex: string): number[] =>
  transform(
    FROM_SRGB,
    [1, 3, 5].map((i) => decodeSrgb(parseInt(hex.slice(i, i + 2), 16) / 255)),
  ).map((v) => Math.max(0, v));
