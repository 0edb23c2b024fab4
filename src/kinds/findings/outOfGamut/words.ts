import type { FindingWords } from "../wording";

export const outOfGamut: FindingWords = {
  name: "Out of gamut",
  title: "{share, number, ::scale/100 .0} % is more colourful than the paper",
  sentence:
    "On {paper} {share, number, ::scale/100 .0} % of the picture cannot be shown as it is, and misses its colours there by ΔE {deltaE, number, ::.0} in the mean.",
};
