import type { SetKindWords } from "../wording";

export const sky: SetKindWords = { name: "Night sky", purpose: "Stars, to be stacked." };
