import type { FindingRecord } from "../fields";

/** Something lit evenly where the plate's light comes from one side, or from one side under an even sky. */
export const lightEven = { values: { layer: "text", plate: "text", ownEv: "number", thereEv: "number" } } as const satisfies FindingRecord;
