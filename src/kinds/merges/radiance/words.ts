import type { MergeWords } from "../wording";

export const radiance: MergeWords = { name: "Radiance merge", word: "Radiance", gives: "scene light, 32 bit", call: "Merge the frames both ways and compare" };
