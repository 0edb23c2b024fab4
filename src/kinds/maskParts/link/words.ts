import type { PartWords } from "../../wording";

export const link: PartWords = { name: "Mask of a layer", does: "The mask of another layer, as it is now.", values: {} };
