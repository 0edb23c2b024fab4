import type { KindWords } from "../../wording";

export const hueBand: KindWords = {
  name: "Hue band",
  does: "One band of hues (Oklch): turned, more or less colourful, lighter or darker.",
  values: {
    hueDeg: "Centre",
    widthDeg: {
      name: "Width",
      hint: "Full strength in the inner half.",
    },
    shiftDeg: "Turned by",
    factor: "Chroma",
    lightEv: "Light",
  },
};
