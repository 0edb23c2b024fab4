import type { MeasuredLateral } from "../../../core/measure/lateralColour";
import { comparesLight, isRepeat, seatsByItself, type MergeMethod } from "../../../core/merge/mergeMethods";
import { updateRecord } from "../../../document/edits";
import { FRESH_MERGE, setGhosts } from "../../../document/mergeEdits";
import type { SeamFacts } from "../../../document/records/panoramaTypes";
import type { FringeFacts, MergeRecord, Records, RecoveredResponse } from "../../../document/records/types";
import { mergeOf, registrationOf, responseInForce, workingSetOf } from "../../../document/selectors";
import type { EngineContext } from "../../EngineContext";
import { portion, SILENT, type Task } from "../../task";
import { prepareJob } from "../layers/compose";
import type { PreparedJob } from "../layers/PreparedJob";
import { openSeams } from "../panorama/openPanorama";
import { findGhosts, type FoundGhosts } from "./findGhosts";
import { fringeFacts } from "./fringe";
import { measureLateralColour } from "./measureLateralColour";
import { openMergeInputs, withResponse } from "./mergeInputs";
import type { MergeInputs } from "./mergeTypes";
import { measureNoiseGain } from "./noiseGain";
import { recoverResponse } from "./recoverResponse";
import { totalShares } from "./shares";

export interface MergeFacts {
  /** frame id → share of the picture that it gave */
  shares: Record<string, number>;
  noiseGain: MergeRecord["noiseGain"];
  /** the response that the frames show; null where it was not looked for or cannot be told */
  response: RecoveredResponse | null;
  fringe: FringeFacts | null;
  /** null of a panorama, whose frames look elsewhere */
  ghosts: FoundGhosts | null;
  /** of a panorama, the most visible first */
  seams: SeamFacts[] | null;
}

/** Makes a merge and measures it. What moved is proposed, not seated. */
export async function makeMerge(ctx: EngineContext, drafted: Records, method: MergeMethod, task: Task): Promise<MergeFacts> {
  const opened = await openMergeInputs(ctx, drafted, portion(task, 0, 0.25));
  if (method === "panorama") return joinPanorama(ctx, drafted, opened, portion(task, 0.25, 1));
  const draft = mergeOf(drafted);
  const response = comparesLight(method) && draft?.response.choice !== "assumed" ? await recoverResponse(opened, portion(task, 0.25, 0.3)) : null;
  const records = draft ? updateRecord<MergeRecord>(draft.id, { response: { ...draft.response, found: response } })(drafted) : drafted;
  const inputs = comparesLight(method) ? withResponse(ctx.cache, opened, responseInForce(records)) : opened;
  const { ghostThreshold, baseId } = draft ?? FRESH_MERGE;
  const ghosts = await findGhosts(ctx, records, inputs, { method, threshold: ghostThreshold, baseId }, portion(task, 0.3, 0.5));
  const seat = seatsByItself(method, workingSetOf(records)?.setKind ?? "separate");
  const job = await prepareJob(ctx, setGhosts(ghosts.regions, seat)(records), portion(task, 0.5, 0.95), method);
  return {
    shares: await sharesOf(job, portion(task, 0.95, 0.97)),
    noiseGain: isRepeat(method)
      ? { measured: await measureNoiseGain(ctx, job.inputs, method, portion(task, 0.97, 0.98)), ideal: Math.sqrt(job.inputs.frames.length) }
      : null,
    response,
    fringe: job.merge.fringe ? { ...fringeFacts(job.merge.fringe), lateral: await lateralOfReference(ctx, records, portion(task, 0.98, 1)) } : null,
    ghosts,
    seams: null,
  };
}

/** Lateral colour of the reference as shot, null where too few of its edges show it. */
export async function lateralOfReference(ctx: EngineContext, records: Records, task: Task): Promise<MeasuredLateral | null> {
  const reference = records[registrationOf(records)?.referenceId ?? ""];
  return reference?.kind === "frame" ? measureLateralColour(ctx, reference, task) : null;
}

async function joinPanorama(ctx: EngineContext, records: Records, { panorama }: MergeInputs, task: Task): Promise<MergeFacts> {
  const job = await prepareJob(ctx, records, portion(task, 0, 0.95), "panorama");
  const seams = panorama ? await openSeams(ctx, job.inputs, panorama, SILENT) : null;
  return { shares: await sharesOf(job, portion(task, 0.95, 1)), noiseGain: null, response: null, fringe: null, ghosts: null, seams: seams?.facts ?? null };
}

export async function sharesOf(job: PreparedJob, task: Task): Promise<Record<string, number>> {
  const totals = await totalShares(job.merge.shares, task);
  return Object.fromEntries(job.inputs.frames.map((f, i) => [f.frame.id, totals[i]]));
}
