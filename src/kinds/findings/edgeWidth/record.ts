import type { FindingRecord } from "../fields";

/** The edge of a cut-out is not as wide as the thing's own. @property how `hard` or `soft` */
export const edgeWidth = { values: { layer: "text", how: "text", px: "number", ownPx: "number" } } as const satisfies FindingRecord;
