import type { FindingRecord } from "../fields";

/** Something seated shows more haze than something that stands farther away. */
export const hazeOrder = { values: { nearer: "text", farther: "text", ev: "number" } } as const satisfies FindingRecord;
