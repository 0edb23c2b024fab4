import type { FindingRecord } from "../fields";

/** What is neutral in what is seated is not so as it is around it. */
export const castUnlike = { values: { layer: "text", deltaE: "number", towards: "text" } } as const satisfies FindingRecord;
