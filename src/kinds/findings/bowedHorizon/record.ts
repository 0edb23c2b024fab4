import type { FindingRecord } from "../fields";

/** The horizon of a panorama is not straight. */
export const bowedHorizon = { values: { px: "number", over: "number" } } as const satisfies FindingRecord;
