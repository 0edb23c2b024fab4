import { message, written, type Telling } from "../messages/message";
import { findingTitle, remedyName } from "../words/findings";
import { MERGE_WORDS } from "../kinds/merges/words";
import { mergeKind, methodsFor, type MergeMethod, type MergeRecord } from "../kinds/merges/records";
import { setRecord } from "../kinds/sets/records";
import { SET_WORDS } from "../kinds/sets/words";
import { setFinish } from "../document/finishEdits";
import { AS_TAKEN, setGeometry, setMeasuredExposures, setRegistration, takeGroupings, unmovedRegistration, updateRecord } from "../document/edits";
import { removeLayer } from "../document/removal";
import { updateLayer, updateMask } from "../document/layerEdits";
import { pathTo } from "../document/history";
import { freshMerge, setMerge, takeMerge, type MergeChange } from "../document/mergeEdits";
import type { ModelChoice } from "../core/register/models";
import type { TargetRecord } from "../document/records/targetTypes";
import type { FrameRecord, Records } from "../document/records/types";
import { activeFramesOf, exposuresOf, framesOf, mergeOf, panoramaOf, registrationOf, setsOf, workingSetOf } from "../document/selectors";
import type { Finding, Remedy } from "../document/finding";
import { proposeReference } from "../document/proposeReference";
import { blockingAspects } from "../document/sets";
import { compareSet, framesTaking } from "./comparing";
import { edit, openJob, setStage } from "./openJob";
import { notify, useSession } from "./store";
import { overSetLimit } from "../document/limits";
import { registerPanorama } from "./panorama";

const { getState: get, setState: set } = useSession;

/** Groups the frames that nobody has grouped by hand, and compares those of the set worked on. */
export async function groupFrames(): Promise<void> {
  const job = openJob();
  const { records } = get();
  const frames = groupable(records);
  if (frames.length === 0) return;
  const found = await job.run("gather", "task.grouping", (signal, onProgress) => job.ask("gatherSets", { records, frames }, { signal, onProgress }));
  if (!found) return;
  const { sets, order, measuredEv } = found;
  const kind = SET_WORDS[sets[0].kind].name.toLowerCase();
  const label = sets.length === 1 ? message("step.takenFor", { kind }) : message("step.setsProposed", { count: sets.length });
  const taken = job.apply(
    records,
    (r) => groupable(r).map((f) => [f.id, f.setId]),
    (r) => takeGroupings(sets, order)(setMeasuredExposures(measuredEv)(r)),
    { stage: "gather", label },
    { measure: false },
  );
  // what the person began meanwhile is not stopped for it
  if (taken && !get().busy) await compareSet();
}

/** Frames of sets that nobody has made by hand and that are not registered. */
function groupable(records: Records): FrameRecord[] {
  const byHand = new Set(setsOf(records).flatMap((s) => (s.by === "hand" || registrationOf(records, s.id) ? [s.id] : [])));
  return framesOf(records).filter((f) => !byHand.has(f.setId));
}

/** Registers all frames that take part, to the frame given or the one proposed. */
export async function register(referenceId?: string, wanted?: ModelChoice): Promise<void> {
  const job = openJob();
  const { records } = get();
  const set = workingSetOf(records);
  const over = set && overSetLimit(records, set.id);
  if (over) return notify(over);
  if (set && setRecord(set.setKind).looksElsewhere) return registerPanorama();
  const model = wanted ?? registrationOf(records)?.model ?? "auto";
  const frames = activeFramesOf(records);
  if (frames.length < 2) return notify("registering.two");
  const blocking = blockingAspects(records);
  if (blocking.length > 0) {
    notify(message("registering.geometry", { aspects: blocking.map((a) => message(`aspect.${a}`, {})) }));
    setStage("gather");
    return;
  }
  const proposed = proposeReference(frames);
  const reference = frames.find((f) => f.id === referenceId) ?? proposed.frame;
  const reason = reference.id === proposed.frame.id ? proposed.reason : message("reference.byHand", {});
  const request = { referenceId: reference.id, referenceReason: reason, model };
  const result = await job.run("register", "task.registering", (signal, onProgress) =>
    job.ask("register", { records, frames, request }, { signal, onProgress }),
  );
  if (!result) return;
  const left = result.registration.placements.filter((p) => !p.registered).length;
  const to = { count: frames.length - left, reference: frames.indexOf(reference) + 1 };
  job.apply(records, framesTaking, setRegistration(result.registration, result.measuredEv), {
    stage: "register",
    label: left > 0 ? message("step.registeredSome", { ...to, left }) : message("step.registered", to),
  });
}

/** A single frame is the picture as it is: nothing is registered, and layers are laid over it. */
export async function takeOneFrame(): Promise<void> {
  const [frame, other] = activeFramesOf(get().records);
  if (!frame || other) return;
  edit(setRegistration(unmovedRegistration([frame], frame, UNMOVED_VERSION), {}), { stage: "register", label: "step.oneFrame" });
  if (await merge("base")) setStage("compose");
}

/** Of registrations in which nothing was measured. */
const UNMOVED_VERSION = 1;

/** What a merge depends on: how the frames lie, how they are developed and exposed. */
const merging = (r: Records) => [framesTaking(r), registrationOf(r), panoramaOf(r), exposuresOf(r)];

/** The last merge of the set by a method on the way to where the job stands: so that going back to a method finds it as it was set. */
function lastMergeBy(method: MergeMethod): MergeRecord | undefined {
  const { history, records } = get();
  const id = mergeOf(records)?.id;
  for (const { diff } of id ? pathTo(history, history.head).reverse() : []) {
    const found = diff.added[id!] ?? diff.updated[id!]?.[1];
    if (found?.kind === "merge" && found.method === method) return found;
  }
  return undefined;
}

/** Makes a merge (or takes the one at hand) and makes it the job's. @param change what is to differ from the merge in force @returns whether it is */
export async function merge(method: MergeMethod, change: MergeChange = {}, label: Telling = written(MERGE_WORDS[method].name)): Promise<boolean> {
  const job = openJob();
  const { records } = get();
  const set = workingSetOf(records);
  const over = set && overSetLimit(records, set.id);
  if (over) {
    notify(over);
    return false;
  }
  const draft = freshMerge(method, change, { ...lastMergeBy(method), ...mergeOf(records) } as MergeRecord);
  const drafted = setMerge(draft)(records);
  const facts = await job.run("merge", "task.merging", async (signal, onProgress) => {
    useSession.setState({ merging: { method, records: drafted } });
    return job.ask("merge", { records: drafted, method }, { signal, onProgress }).finally(() => job.isOpen && useSession.setState({ merging: null }));
  });
  return facts !== null && job.apply(records, merging, takeMerge(draft, facts), { stage: "merge", label });
}

/** Makes the merge that suits the set; for a bracket both ways, so that they can be compared at once. */
export async function mergeAsProposed(): Promise<void> {
  const methods = methodsFor(workingSetOf(get().records)?.setKind ?? "separate");
  const [first, second] = methods;
  if (!mergeKind(first).givesSceneLight) await merge(first);
  else await openJob().during(async () => (await merge(second)) && (await merge(first)));
}

/** Runs the inspection on the picture as it is. However it ends, that state is not inspected again by itself. */
export async function proof(): Promise<void> {
  const job = openJob();
  const { records } = get();
  if (!mergeOf(records)) return;
  set({ inspected: records });
  const findings = await job.run("proof", "task.inspecting", (signal, onProgress) => job.ask("proof", { records }, { signal, onProgress }));
  if (!findings || get().records !== records) return;
  set({ findings });
  job.touch();
}

/** Carries out a finding's remedy as one step. */
export function remedy(finding: Finding, what: Remedy): void {
  const text = { stage: "proof", label: message("step.mended", { finding: findingTitle(finding), remedy: remedyName(what).toLowerCase() }) };
  if (what.kind === "setFinish") edit(setFinish(what.step, what.values), text);
  else if (what.kind === "removeLayer") edit(removeLayer(what.layerId), text);
  else if (what.kind === "changeLayer") edit(updateLayer(what.layerId, what.change), text);
  else if (what.kind === "changeMask") edit(updateMask(what.layerId, what.change), text);
  else if (what.kind === "changeTarget") edit(updateRecord<TargetRecord>("target", what.change), text);
  else if (what.kind === "crop") edit(cropToProposed, text);
}

/** The crop that the registration proposes, without a turn. */
export function cropToProposed(records: Records): Records {
  const registration = registrationOf(records);
  return registration ? setGeometry({ ...AS_TAKEN, crop: registration.proposedCrop, ratio: null })(records) : records;
}
