import type { FindingRecord } from "../fields";

/** A rim that still has the colour of the old background. */
export const oldRim = { values: { layer: "text", deltaE: "number" } } as const satisfies FindingRecord;
