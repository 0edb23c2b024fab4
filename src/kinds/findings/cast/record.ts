import type { FindingRecord } from "../fields";

/** What was said to be neutral is further from it than it may be. @property from `layer` or `merge`, whichever takes it there, and by the layer's name */
export const cast = { values: { pin: "number", deltaE: "number", towards: "text", from: "text", by: "text" } } as const satisfies FindingRecord;
