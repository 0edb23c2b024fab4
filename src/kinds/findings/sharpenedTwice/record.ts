import type { FindingRecord } from "../fields";

/** Fine detail raised by more than one layer at the same places. */
export const sharpenedTwice = { values: { first: "text", second: "text", share: "number" } } as const satisfies FindingRecord;
