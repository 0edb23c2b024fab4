import { MOST_TINTS } from "../../../core/adjust/colour";
import { rowWords, type KindWords } from "../../wording";

export const tint: KindWords = {
  name: "Tint by tone",
  does: "Colour added at places of the tone scale, luminance kept.",
  values: { points: "Number of places", ...rowWords(MOST_TINTS, (place) => ({ ev: `Place ${place + 1}`, hue: "Hue there", strength: "Strength" })) },
};
