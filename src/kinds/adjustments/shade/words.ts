import type { KindWords } from "../../wording";

export const shade: KindWords = {
  name: "Shade",
  does: "Multiplies light by a weaker one of another colour.",
  values: {
    ev: "Light",
    mired: "Warmer by",
  },
};
