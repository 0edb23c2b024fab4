import type { FindingRecord } from "../fields";

/** Colours that the target cannot show. */
export const outOfGamut = { values: { share: "number", deltaE: "number", paper: "text" } } as const satisfies FindingRecord;
