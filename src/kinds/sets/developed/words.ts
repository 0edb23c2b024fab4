import type { SetKindWords } from "../wording";

export const developed: SetKindWords = { name: "Developed pair", purpose: "One exposure developed twice." };
