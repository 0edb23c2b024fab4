import type { FindingRecord } from "../fields";

/** A mask that runs over an edge which it follows elsewhere. */
export const spill = { values: { layer: "text", px: "number", others: "number" } } as const satisfies FindingRecord;
