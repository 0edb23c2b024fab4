import type { FindingRecord } from "../fields";

/** Areas at the top of the range, lamps, the sun and glints left out. */
export const clipped = { values: { areas: "number", share: "number", red: "number", green: "number", blue: "number" } } as const satisfies FindingRecord;
