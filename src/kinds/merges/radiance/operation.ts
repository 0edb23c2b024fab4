import { responseInForce } from "../../../document/selectors";
import { fringeFacts } from "../../../engine/operations/merge/fringe";
import { lateralOfReference } from "../../../engine/operations/merge/measureLateralColour";
import { withResponse } from "../../../engine/operations/merge/mergeInputs";
import { mergeRadiance } from "../../../engine/operations/merge/mergeRadiance";
import { findResponse } from "../../../engine/operations/merge/recoverResponse";
import { portion } from "../../../engine/task";
import { mergeOf } from "../../../document/selectors";
import type { OfLight } from "../fields";
import { ownOf } from "../records";
import type { MergeOperation } from "../tools";

export const radiance: MergeOperation<OfLight> = {
  reads: (cache, records, inputs) => withResponse(cache, inputs, responseInForce(records)),
  open: (ctx, inputs, records, task) => mergeRadiance(ctx, inputs, ownOf("radiance", mergeOf(records)).fringe.removed, task),
  finds: findResponse,
  measures: async (ctx, job, { fringe }, task) => {
    const found = job.merge.fringe;
    const facts = found && { ...fringeFacts(found), lateral: await lateralOfReference(ctx, job.records, portion(task, 0, 1)) };
    return { fringe: { ...fringe, facts: facts ?? null } };
  },
};
