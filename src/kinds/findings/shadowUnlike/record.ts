import type { FindingRecord } from "../fields";

/** A laid shadow stronger, weaker, softer or harder than the plate's own. */
export const shadowUnlike = {
  values: { layer: "text", ev: "number", ownEv: "number", degrees: "number", ownDegrees: "number" },
} as const satisfies FindingRecord;
