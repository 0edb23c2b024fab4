import type { FindingRecord } from "../fields";

/** Something that stands far away lies over mist or things in the air, and so before all of them. */
export const mistBehind = { values: { layer: "text", air: "text", metres: "number" } } as const satisfies FindingRecord;
