import type { FindingRecord } from "../fields";

/** Colour of the old sky in the edges of what stands before another one. */
export const oldSky = { values: { layer: "text", deltaE: "number" } } as const satisfies FindingRecord;
