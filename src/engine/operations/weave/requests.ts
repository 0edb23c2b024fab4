import type { Records } from "../../../document/records/types";
import type { WeaveRecord } from "../../../document/records/weaveTypes";
import type { EngineContext } from "../../EngineContext";
import type { Task } from "../../task";
import { openMergeInputs } from "../merge/mergeInputs";
import { measureArea, proposeWeave, splitWeaveRegion, weaveBorders } from "./weave";

export const weaveRequests = {
  /** Regions of the scene, each with what every frame is worth there, and the frame proposed. @param regions how many */
  proposeWeave: async (ctx: EngineContext, p: { records: Records; regions: number }, task: Task) =>
    proposeWeave(ctx, p.records, await openMergeInputs(ctx, p.records, task), p.regions, task),
  /** One region parted in two; null where it cannot be. */
  splitWeaveRegion: async (ctx: EngineContext, p: { records: Records; weave: WeaveRecord; regionId: string }, task: Task) =>
    splitWeaveRegion(ctx, p.records, await openMergeInputs(ctx, p.records, task), p.weave, p.regionId, task),
  /** What every frame of the set is worth in an area of the weave's cells. */
  measureArea: async (ctx: EngineContext, p: { records: Records; runs: number[] }, task: Task) =>
    measureArea(ctx, await openMergeInputs(ctx, p.records, task), p.runs, task),
  /** Cells that each chosen frame gives, borders where they show least. */
  weaveBorders: async (ctx: EngineContext, p: { records: Records; weave: WeaveRecord }, task: Task) =>
    weaveBorders(ctx, await openMergeInputs(ctx, p.records, task), p.weave, task),
};
