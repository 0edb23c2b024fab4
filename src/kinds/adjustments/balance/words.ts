import type { KindWords } from "../../wording";

export const balance: KindWords = {
  name: "Colour balance by tone",
  does: "Another light for the dark, the middle and the light tones.",
  values: {
    darkMired: "Dark: warmth",
    darkDuv: "Dark: magenta",
    middleMired: "Middle: warmth",
    middleDuv: "Middle: magenta",
    lightMired: "Light: warmth",
    lightDuv: "Light: magenta",
  },
};
