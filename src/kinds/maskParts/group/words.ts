import type { PartWords } from "../../wording";

export const group: PartWords = { name: "Group of parts", does: "Holds parts that are combined among themselves first.", values: {} };
