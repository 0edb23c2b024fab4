import type { PartWords } from "../../wording";

export const cells: PartWords = { name: "Cells of the weave", does: "A region of the weave.", values: {} };
