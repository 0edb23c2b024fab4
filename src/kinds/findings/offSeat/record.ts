import type { FindingRecord } from "../fields";

/** Something that does not stand where it was seated, or is not as large as it would be there. */
export const offSeat = { values: { layer: "text", percent: "number", px: "number" } } as const satisfies FindingRecord;
