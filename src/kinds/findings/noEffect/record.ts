import type { FindingRecord } from "../fields";

/** A layer without which the picture is the same. */
export const noEffect = { values: { layer: "text" } } as const satisfies FindingRecord;
