import type { SetKindWords } from "../wording";

export const repeats: SetKindWords = { name: "Repeats", purpose: "The same view at the same settings, to average noise or remove passers-by." };
