import type { FindingRecord } from "../fields";

/** A glow that is bluer than the lamp it surrounds. */
export const glowColder = { values: { layer: "text", ev: "number" } } as const satisfies FindingRecord;
