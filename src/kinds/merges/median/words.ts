import type { MergeWords } from "../wording";

export const median: MergeWords = { name: "Median", word: "Median", gives: "passers-by gone, more noise", call: "Take the median of the frames" };
