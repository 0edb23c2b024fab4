import type { FindingRecord } from "../fields";

/** Thin pieces of what lay behind that hang on the rim of a cut-out. */
export const stub = { values: { layer: "text", count: "number", px: "number" } } as const satisfies FindingRecord;
