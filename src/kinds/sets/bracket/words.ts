import type { SetKindWords } from "../wording";

export const bracket: SetKindWords = { name: "Exposure bracket", purpose: "One view at several exposures, for more range than one frame holds." };
