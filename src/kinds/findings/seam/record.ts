import type { FindingRecord } from "../fields";

/** A seam that could be seen. @property a, b numbers of the frames */
export const seam = { values: { a: "number", b: "number", deltaE: "number", worst: "number" } } as const satisfies FindingRecord;
