import type { KindWords } from "../../wording";

export const falloff: KindWords = {
  name: "Light falloff",
  does: "Less or more light away from a centre.",
  values: {
    ev: "At the corners",
    centreX: "Centre across",
    centreY: "Centre down",
    start: {
      name: "Begins at",
      hint: "Share of the way to the furthest corner that stays as it is.",
    },
  },
};
