import type { MergeWords } from "../wording";

export const focus: MergeWords = { name: "Focus merge", word: "Focus", gives: "sharp at every distance", call: "Merge what is sharp in each frame" };
