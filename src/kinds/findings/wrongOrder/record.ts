import type { FindingRecord } from "../fields";

/** Something that stands nearer than what covers it. */
export const wrongOrder = { values: { layer: "text", over: "text", metres: "number" } } as const satisfies FindingRecord;
