import type { FindingRecord } from "../fields";

/** A frame whose edges are wider than those of the sharpest. */
export const softFrame = { values: { frame: "number", widthPx: "number", sharpestPx: "number" } } as const satisfies FindingRecord;
