import { openPanorama, openSeams } from "../../../engine/operations/panorama/openPanorama";
import { SILENT } from "../../../engine/task";
import type { MergeOperation } from "../tools";
import type { OfPanorama } from "./record";

export const panorama: MergeOperation<OfPanorama> = {
  open: (ctx, inputs, _records, task) => openPanorama(ctx, inputs, task),
  measures: async (ctx, { inputs }) => ({ seams: inputs.panorama ? (await openSeams(ctx, inputs, inputs.panorama, SILENT)).facts : null }),
};
