import type { FindingRecord } from "../fields";

/** Border that is not covered by what was shot. */
export const emptyBorder = { values: { share: "number", panorama: "text" } } as const satisfies FindingRecord;
