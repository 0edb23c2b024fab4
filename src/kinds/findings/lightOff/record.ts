import type { FindingRecord } from "../fields";

/** Something lit from another side than the plate. */
export const lightOff = { values: { layer: "text", degrees: "number", mirrored: "number", helps: "text" } } as const satisfies FindingRecord;
