import type { KindWords } from "../../wording";

export const noise: KindWords = {
  name: "Noise reduction",
  does: "Differences that the noise explains are evened out, edges kept; brightness and colour apart.",
  values: {
    sigma: {
      name: "Noise",
      hint: "Encoded, in even areas at 1:1.",
    },
    light: "Brightness",
    color: "Colour",
  },
};
