import type { FindingRecord } from "../fields";

/** Both frames of a seam show the same edge in two places. */
export const doubledEdge = { values: { a: "number", b: "number", apart: "number", looked: "number", px: "number" } } as const satisfies FindingRecord;
