import type { SetKindWords } from "../wording";

export const cutout: SetKindWords = { name: "Cut-out and plate", purpose: "A thing on a plain or transparent ground, and the scene it goes into." };
