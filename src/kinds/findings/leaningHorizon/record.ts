import type { FindingRecord } from "../fields";

/** The horizon of a panorama leans against lines said to be level or upright. @property way down or up to the right */
export const leaningHorizon = { values: { degrees: "number", way: "text" } } as const satisfies FindingRecord;
