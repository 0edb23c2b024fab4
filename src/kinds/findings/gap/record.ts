import type { FindingRecord } from "../fields";

/** Gaps in a cut-out through which what lies behind it shows. */
export const gap = { values: { layer: "text", count: "number", px: "number" } } as const satisfies FindingRecord;
