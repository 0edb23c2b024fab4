import { mergeKind, type MergeMethod } from "../../../kinds/merges/records";
import type { Records } from "../../../document/records/types";
import { mergeOf, responseInForce } from "../../../document/selectors";
import type { EngineContext } from "../../EngineContext";
import type { Task } from "../../task";
import { prepareJob } from "../layers/compose";
import { radianceRange } from "./confidence";
import { findGhosts } from "./findGhosts";
import { makeMerge, sharesOf } from "./makeMerge";
import { openMergeInputs, withResponse } from "./mergeInputs";

export const mergeRequests = {
  /** Makes a merge and measures it. What moved is proposed, not seated. */
  merge: (ctx: EngineContext, p: { records: Records; method: MergeMethod }, task: Task) => makeMerge(ctx, p.records, p.method, task),
  /** frame id → share of the picture that it gives as things are */
  shares: async (ctx: EngineContext, p: { records: Records }, task: Task) => sharesOf(await prepareJob(ctx, p.records, task), task),
  /** How far the radiance merge in force reaches. */
  radianceRange: async (ctx: EngineContext, p: { records: Records }, task: Task) => radianceRange(await prepareJob(ctx, p.records, task, "radiance")),
  /** What moved between the frames, at a threshold in multiples of the noise. */
  findGhosts: async (ctx: EngineContext, { records, threshold }: { records: Records; threshold: number }, task: Task) => {
    const opened = await openMergeInputs(ctx, records, task);
    const merge = mergeOf(records);
    const inputs = merge && mergeKind(merge.method).comparesLight ? withResponse(ctx.cache, opened, responseInForce(records)) : opened;
    return findGhosts(ctx, records, inputs, { method: merge?.method ?? "radiance", threshold, baseId: merge?.baseId ?? null }, task);
  },
};
