import type { FindingRecord } from "../fields";

/** Parts of a cut-out that lie apart from the rest. */
export const apart = { values: { layer: "text", count: "number", px: "number" } } as const satisfies FindingRecord;
