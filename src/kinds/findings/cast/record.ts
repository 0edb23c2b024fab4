import type { FindingRecord } from "../fields";

/** What was said to be neutral is not. */
export const cast = { values: { pin: "number", deltaE: "number", towards: "text" } } as const satisfies FindingRecord;
