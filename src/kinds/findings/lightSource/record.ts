import type { FindingRecord } from "../fields";

/** Lamps, the sun and glints, which may clip. */
export const lightSource = { values: { areas: "number", share: "number" }, isHarmless: true } as const satisfies FindingRecord;
