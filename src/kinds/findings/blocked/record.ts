import type { FindingRecord } from "../fields";

/** Areas at the bottom of the range in at least one channel. */
export const blocked = { values: { areas: "number", share: "number", red: "number", green: "number", blue: "number" } } as const satisfies FindingRecord;
