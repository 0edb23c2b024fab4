import { mergePanorama, findSeamFacts } from "../../../engine/operations/panorama/mergePanorama";
import { SILENT } from "../../../engine/task";
import type { MergeOperation } from "../tools";
import type { OfPanorama } from "./record";

export const panorama: MergeOperation<OfPanorama> = {
  open: (ctx, inputs, _records, task) => mergePanorama(ctx, inputs, task),
  measures: async (ctx, { inputs }) => ({ seams: inputs.panorama ? (await findSeamFacts(ctx, inputs, inputs.panorama, SILENT)).facts : null }),
};
