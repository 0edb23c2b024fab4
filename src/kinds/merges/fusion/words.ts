import type { MergeWords } from "../wording";

export const fusion: MergeWords = { name: "Exposure fusion", word: "Fusion", gives: "ready to look at", call: "Fuse the frames" };
