import type { FindingRecord } from "../fields";

/** Where a cut-out ends at its box or at the border of its frame, not at an edge of its own. */
export const cutOff = { values: { layer: "text", count: "number", px: "number" } } as const satisfies FindingRecord;
