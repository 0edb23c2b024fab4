import type { FindingRecord } from "../fields";

/** A mask whose strokes cannot do what they were painted for. @property how revealedAlready, concealedAlready or inverted */
export const turnedMask = { values: { layer: "text", strokes: "number", how: "text" } } as const satisfies FindingRecord;
