import type { KindWords } from "../../wording";

export const mixture: KindWords = {
  name: "Colour matrix",
  does: "Each channel of light from so much of each of the three, as one camera sees against another.",
  values: {
    redOfRed: "Red from red",
    redOfGreen: "Red from green",
    redOfBlue: "Red from blue",
    greenOfRed: "Green from red",
    greenOfGreen: "Green from green",
    greenOfBlue: "Green from blue",
    blueOfRed: "Blue from red",
    blueOfGreen: "Blue from green",
    blueOfBlue: "Blue from blue",
  },
};
