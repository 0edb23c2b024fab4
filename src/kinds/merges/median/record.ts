import { meanFields, type MergeKind, type OfMean } from "../fields";

/** The middle one of all frames, sample by sample. */
export const median: MergeKind<OfMean> = { fields: meanFields, fresh: () => ({ noiseGain: null }), suits: { repeats: 2, sky: 2, separate: 1, developed: 1 } };
