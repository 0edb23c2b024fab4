import { mergeOf } from "../../../document/selectors";
import { mergeFusion } from "../../../engine/operations/merge/mergeFusion";
import { findResponse } from "../../../engine/operations/merge/recoverResponse";
import type { OfLight } from "../fields";
import { ownOf } from "../records";
import type { MergeOperation } from "../tools";
import type { FusionWeights } from "./record";

export const fusion: MergeOperation<FusionWeights & OfLight> = {
  open: (ctx, inputs, records, task) => {
    const { contrast, saturation, exposedness } = ownOf("fusion", mergeOf(records));
    return mergeFusion(ctx, inputs, { contrast, saturation, exposedness }, task);
  },
  finds: findResponse,
};
