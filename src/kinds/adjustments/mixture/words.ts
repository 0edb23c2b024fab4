import type { KindWords } from "../../wording";

export const mixture: KindWords = {
  name: "Channels mixed",
  does: "Each channel of light as a mix of the three, as one camera sees against another.",
  values: {
    redOfRed: "Red: of red",
    redOfGreen: "Red: of green",
    redOfBlue: "Red: of blue",
    greenOfRed: "Green: of red",
    greenOfGreen: "Green: of green",
    greenOfBlue: "Green: of blue",
    blueOfRed: "Blue: of red",
    blueOfGreen: "Blue: of green",
    blueOfBlue: "Blue: of blue",
  },
};
