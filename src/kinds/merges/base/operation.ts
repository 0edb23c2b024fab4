import { mergeOf } from "../../../document/selectors";
import type { Records } from "../../../document/records/types";
import { mergeBase } from "../../../engine/operations/merge/mergeBase";
import type { MergeInputs } from "../../../engine/operations/merge/mergeTypes";
import type { Nothing } from "../fields";
import type { MergeOperation } from "../tools";

/** The frame that the others come into: the one chosen, else the reference. */
function baseOf(records: Records, inputs: MergeInputs): number {
  const chosen = inputs.frames.findIndex((f) => f.frame.id === mergeOf(records)?.baseId);
  return chosen >= 0 ? chosen : inputs.reference;
}

export const base: MergeOperation<Nothing> = {
  open: (ctx, inputs, records, task) => mergeBase(ctx, inputs, baseOf(records, inputs), task),
  // it stays at its own exposure, all else is at the reference's
  exposureEv: (records, inputs) => inputs.frames[baseOf(records, inputs)].relativeEv,
};
