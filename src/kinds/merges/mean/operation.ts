import { measureNoiseGain } from "../../../engine/operations/merge/noiseGain";
import { mergeRepeats } from "../../../engine/operations/merge/mergeRepeats";
import type { OfMean } from "../fields";
import type { MergeOperation } from "../tools";

export const mean: MergeOperation<OfMean> = {
  open: (ctx, inputs, _records, task) => mergeRepeats(ctx, inputs, "mean", task),
  measures: async (ctx, { inputs }, _own, task) => ({
    noiseGain: { measured: await measureNoiseGain(ctx, inputs, "mean", task), ideal: Math.sqrt(inputs.frames.length) },
  }),
};
