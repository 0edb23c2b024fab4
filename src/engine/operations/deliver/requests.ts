import type { MergeMethod } from "../../../kinds/merges/records";
import type { Records } from "../../../document/records/types";
import type { EngineContext } from "../../EngineContext";
import type { Task } from "../../task";
import { exportDepth } from "./exportDepth";
import { exportMap, type MapKind } from "./exportMap";
import { exportPicture, type ExportSettings } from "./exportPicture";

export const deliverRequests = {
  exportPicture: (ctx: EngineContext, p: { records: Records; settings: ExportSettings; method?: MergeMethod }, task: Task) =>
    exportPicture(ctx, p.records, p.settings, task, p.method),
  /** The depth of a focus stack as a file. */
  exportDepth: (ctx: EngineContext, p: { records: Records; cropped: boolean }, task: Task) => exportDepth(ctx, p.records, p.cropped, task),
  /** A map of the merge as a PNG file. */
  exportMap: (ctx: EngineContext, p: { records: Records; kind: MapKind; cropped: boolean; method?: MergeMethod }, task: Task) =>
    exportMap(ctx, p.records, p.kind, p.cropped, task, p.method),
};
