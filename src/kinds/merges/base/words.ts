import type { MergeWords } from "../wording";

export const base: MergeWords = { name: "One frame as base", word: "Base", gives: "others come in place by place", call: "Use one frame as base" };
