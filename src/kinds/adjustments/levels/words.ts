import { CHANNELS, type KindWords } from "../../wording";

export const levels: KindWords = {
  name: "Levels",
  does: "Moves the ends of the encoded range, in and out.",
  values: { channel: CHANNELS, inLow: "Black in", inHigh: "White in", gamma: "Exponent", outLow: "Black out", outHigh: "White out" },
};
