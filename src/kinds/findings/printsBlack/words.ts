import type { FindingWords } from "../wording";

export const printsBlack: FindingWords = {
  name: "Prints as black",
  title: "{share, number, ::scale/100 .0} % prints as black",
  sentence: "On {paper} tones below {tone} of 255 cannot be told from the darkest ink; {share, number, ::scale/100 .0} % of the picture lies there.",
};
