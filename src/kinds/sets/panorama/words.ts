import type { SetKindWords } from "../wording";

export const panorama: SetKindWords = { name: "Panorama", purpose: "Overlapping views from one place, for a wider picture." };
