import type { FindingRecord } from "../fields";

/** An adjustment that reaches beyond the layer it lies on. */
export const leak = { values: { layer: "text", below: "text", share: "number", deltaE: "number" } } as const satisfies FindingRecord;
