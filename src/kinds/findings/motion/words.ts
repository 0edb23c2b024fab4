import type { FindingWords } from "../wording";

export const motion: FindingWords = {
  name: "Things that moved",
  title: "Something moved at place {place}",
  sentence:
    "{width} × {height} px; the frames differ by {noise, number, ::.} times the noise, and all of them are merged. Choose one frame for it in Merge, or accept it.",
};
