import type { FindingRecord } from "../fields";

/** A patch that a retouch made stand twice. */
export const twins = { values: { number: "number", apartPx: "number", details: "number" } } as const satisfies FindingRecord;
