import type { FindingRecord } from "../fields";

/** Something that stands out is cut by the crop. @property ev against what is beside it */
export const edgeCut = { values: { side: "text", from: "number", to: "number", ev: "number", brighter: "text" } } as const satisfies FindingRecord;
