import type { FindingRecord } from "../fields";

/** Something that is sharper or softer than the plate is at its distance. */
export const blurUnlike = { values: { layer: "text", how: "text", px: "number", platePx: "number" } } as const satisfies FindingRecord;
