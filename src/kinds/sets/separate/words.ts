import type { SetKindWords } from "../wording";

export const separate: SetKindWords = { name: "Separate shots", purpose: "One view in several lights or with things moved, each best somewhere." };
