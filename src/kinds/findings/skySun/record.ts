import type { FindingRecord } from "../fields";

/** The sun of another sky stands elsewhere than the shadows on the land tell. */
export const skySun = { values: { layer: "text", degrees: "number" } } as const satisfies FindingRecord;
