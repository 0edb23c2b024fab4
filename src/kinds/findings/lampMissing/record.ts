import type { FindingRecord } from "../fields";

/** Something that stands near a lamp and gets nothing of its light. */
export const lampMissing = { values: { layer: "text", ev: "number" } } as const satisfies FindingRecord;
