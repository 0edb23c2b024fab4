import type { FindingRecord } from "../fields";

/** What is seated is quieter or noisier than what is around it. @property how `quieter` or `noisier` */
export const noiseUnlike = { values: { layer: "text", how: "text", sigma: "number", plateSigma: "number" } } as const satisfies FindingRecord;
