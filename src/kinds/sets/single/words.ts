import type { SetKindWords } from "../wording";

export const single: SetKindWords = { name: "Single frame", purpose: "A frame on its own." };
