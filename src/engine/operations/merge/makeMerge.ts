import { updateRecord } from "../../../document/edits";
import { freshMerge, setGhosts } from "../../../document/mergeEdits";
import type { Records } from "../../../document/records/types";
import { mergeOf, responseInForce, workingSetOf } from "../../../document/selectors";
import { operationOf } from "../../../kinds/merges/operations";
import { mergeKind, ownOf, seatsAtOnce, type MergeMethod, type MergeRecord } from "../../../kinds/merges/records";
import type { EngineContext } from "../../EngineContext";
import { portion, type Task } from "../../task";
import { prepareJob } from "../layers/compose";
import type { PreparedJob } from "../layers/PreparedJob";
import { findGhosts, type FoundGhosts } from "./findGhosts";
import { openMergeInputs, withResponse } from "./mergeInputs";
import type { MergeInputs } from "./mergeTypes";
import { totalShares } from "./shares";

export interface MergeFacts {
  /** frame id → share of the picture that it gave */
  shares: Record<string, number>;
  /** what the method's own record holds of what was found */
  own: object;
  /** null where frames look elsewhere */
  ghosts: FoundGhosts | null;
}

/** Makes a merge and measures it. What moved is proposed, not seated. */
export async function makeMerge(ctx: EngineContext, drafted: Records, method: MergeMethod, task: Task): Promise<MergeFacts> {
  const opened = await openMergeInputs(ctx, drafted, portion(task, 0, 0.25));
  const operation = operationOf(method);
  const draft = mergeOf(drafted);
  const begun = ownOf(method, draft);
  const own = { ...begun, ...(await operation.finds?.(opened, begun, portion(task, 0.25, 0.3))) };
  const records = draft ? updateRecord<MergeRecord>(draft.id, own)(drafted) : drafted;
  const ghosts = mergeKind(method).looksElsewhere ? null : await moved(ctx, records, opened, method, portion(task, 0.3, 0.5));
  const seat = seatsAtOnce(method, workingSetOf(records)?.setKind ?? "separate");
  const job = await prepareJob(ctx, ghosts ? setGhosts(ghosts.regions, seat)(records) : records, portion(task, 0.5, 0.95), method);
  const shares = await sharesOf(job, portion(task, 0.95, 0.97));
  return { shares, own: { ...own, ...(await operation.measures?.(ctx, job, own, portion(task, 0.97, 1))) }, ghosts };
}

function moved(ctx: EngineContext, records: Records, opened: MergeInputs, method: MergeMethod, task: Task): Promise<FoundGhosts> {
  const inputs = mergeKind(method).comparesLight ? withResponse(ctx.cache, opened, responseInForce(records)) : opened;
  const { ghostThreshold, baseId } = mergeOf(records) ?? freshMerge(method);
  return findGhosts(ctx, records, inputs, { method, threshold: ghostThreshold, baseId }, task);
}

export async function sharesOf(job: PreparedJob, task: Task): Promise<Record<string, number>> {
  const totals = await totalShares(job.merge.shares, task);
  return Object.fromEntries(job.inputs.frames.map((f, i) => [f.frame.id, totals[i]]));
}
