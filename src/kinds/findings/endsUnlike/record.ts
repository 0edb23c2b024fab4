import type { FindingRecord } from "../fields";

/** Black or white of what is seated lies off its surroundings'. @property end `black` or `white` */
export const endsUnlike = { values: { layer: "text", end: "text", ev: "number" } } as const satisfies FindingRecord;
