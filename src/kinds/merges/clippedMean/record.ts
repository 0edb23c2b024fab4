import { meanFields, type MergeKind, type OfMean } from "../fields";

/** The mean of what lies near the median. */
export const clippedMean: MergeKind<OfMean> = { fields: meanFields, fresh: () => ({ noiseGain: null }), suits: { repeats: 4, sky: 4 } };
