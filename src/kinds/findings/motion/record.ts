import type { FindingRecord } from "../fields";

/** A place that moved, for which no frame was chosen. @property noise by how many times the noise frames differ */
export const motion = { values: { place: "number", width: "number", height: "number", noise: "number" } } as const satisfies FindingRecord;
