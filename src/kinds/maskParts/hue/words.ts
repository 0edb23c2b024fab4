import type { PartWords } from "../../wording";

export const hue: PartWords = {
  name: "Range of hue",
  does: "Where the picture or a frame has such a hue.",
  values: { hueDeg: "Centre", widthDeg: "Width", leastChroma: "Least chroma" },
};
