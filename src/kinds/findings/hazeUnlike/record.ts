import type { FindingRecord } from "../fields";

/** What is seated is darker than the plate's air lets anything look from that far away. */
export const hazeUnlike = { values: { layer: "text", ev: "number", distanceM: "number" } } as const satisfies FindingRecord;
