import type { MergeWords } from "../wording";

export const clippedMean: MergeWords = {
  name: "Mean without outliers",
  word: "No outliers",
  gives: "least noise, passers-by gone",
  call: "Average the frames",
};
