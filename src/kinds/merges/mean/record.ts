import { meanFields, type MergeKind, type OfMean } from "../fields";

/** The mean of all frames. */
export const mean: MergeKind<OfMean> = { fields: meanFields, fresh: () => ({ noiseGain: null }), suits: { repeats: 3, sky: 3 }, smearsMotion: true };
