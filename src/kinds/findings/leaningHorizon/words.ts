import type { FindingWords } from "../wording";

export const leaningHorizon: FindingWords = {
  name: "Leaning horizon",
  title: "The horizon leans",
  sentence: "By {degrees, number, ::.00}°, {way} to the right, as the lines that were said to be level or upright have it.",
};
