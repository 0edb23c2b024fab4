import type { FindingRecord } from "../fields";

/** A solid thing that lets what lies behind it through. */
export const seeThrough = { values: { layer: "text", percent: "number" } } as const satisfies FindingRecord;
