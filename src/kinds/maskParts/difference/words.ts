import type { PartWords } from "../../wording";

export const difference: PartWords = { name: "Difference of frames", does: "Where two frames are not alike.", values: { fromEv: "From", softEv: "Softness" } };
