import type { FindingRecord } from "../fields";

/** What prints as the black of its target though it is lighter than black. @property tone the first of 255 that does not */
export const printsBlack = { values: { share: "number", tone: "number", paper: "text" } } as const satisfies FindingRecord;
