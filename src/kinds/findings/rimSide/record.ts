import type { FindingRecord } from "../fields";

/** Something whose bright side faces away from the lamp that lights it most. */
export const rimSide = { values: { layer: "text", degrees: "number" } } as const satisfies FindingRecord;
