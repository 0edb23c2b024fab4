import type { FindingRecord } from "../fields";

/** Something on the ground under a light that has a direction, without a shadow. */
export const noShadow = { values: { layer: "text" } } as const satisfies FindingRecord;
