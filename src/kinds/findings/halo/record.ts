import type { FindingRecord } from "../fields";

/** A line along a mask that neither side has. */
export const halo = { values: { layer: "text", ev: "number", brighter: "text", others: "number" } } as const satisfies FindingRecord;
