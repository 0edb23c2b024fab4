import type { SetKindWords } from "../wording";

export const focus: SetKindWords = { name: "Focus stack", purpose: "One view focused at several distances, for more depth than one frame holds." };
