import type { FindingWords } from "../wording";

export const twins: FindingWords = {
  name: "Things shown twice",
  title: "The same patch stands twice",
  sentence: "Number {number}: here and {apartPx} px away, {details} details alike. Choose another source, or break one of both up.",
};
