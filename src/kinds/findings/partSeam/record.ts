import type { FindingRecord } from "../fields";

/** A part from another frame whose border can be seen. */
export const partSeam = { values: { layer: "text", deltaE: "number", worst: "number" } } as const satisfies FindingRecord;
