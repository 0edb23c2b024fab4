import type { FindingWords } from "../wording";

export const sharpenedTwice: FindingWords = {
  name: "Sharpened twice",
  title: "Sharpened twice",
  sentence: '"{first}" and "{second}" both raise fine detail in {share, number, ::scale/100 .} % of the picture; sharpening at export comes on top.',
};
