import type { MergeWords } from "../wording";

export const mean: MergeWords = { name: "Mean", word: "Mean", gives: "least noise, all that moved smeared", call: "Average the frames" };
