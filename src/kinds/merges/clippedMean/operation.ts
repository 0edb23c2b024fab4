import { measureNoiseGain } from "../../../engine/operations/merge/noiseGain";
import { mergeRepeats } from "../../../engine/operations/merge/mergeRepeats";
import type { OfMean } from "../fields";
import type { MergeOperation } from "../tools";

export const clippedMean: MergeOperation<OfMean> = {
  open: (ctx, inputs, _records, task) => mergeRepeats(ctx, inputs, "clippedMean", task),
  measures: async (ctx, { inputs }, _own, task) => ({
    noiseGain: { measured: await measureNoiseGain(ctx, inputs, "clippedMean", task), ideal: Math.sqrt(inputs.frames.length) },
  }),
};
