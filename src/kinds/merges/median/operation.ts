import { measureNoiseGain } from "../../../engine/operations/merge/noiseGain";
import { mergeRepeats } from "../../../engine/operations/merge/mergeRepeats";
import type { OfMean } from "../fields";
import type { MergeOperation } from "../tools";

export const median: MergeOperation<OfMean> = {
  open: (ctx, inputs, _records, task) => mergeRepeats(ctx, inputs, "median", task),
  measures: async (ctx, { inputs }, _own, task) => ({
    noiseGain: { measured: await measureNoiseGain(ctx, inputs, "median", task), ideal: Math.sqrt(inputs.frames.length) },
  }),
};
