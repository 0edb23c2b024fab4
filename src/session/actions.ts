import { MERGE_NAMES, methodsFor, type MergeMethod } from "../core/merge/mergeMethods";
import { ASPECT_NAMES, type ParityDifference } from "../core/measure/sets/parity";
import { SET_KIND_NAMES, type SetKind } from "../core/measure/sets/setKinds";
import { proposeWhiteBalance, type WhiteBalance } from "../core/color/whiteBalance";
import {
  acceptDifference,
  developFrames,
  setAdjustment,
  setGeometry,
  setMeasuredExposures,
  setRegistration,
  removeLayer,
  resetAdjustment,
  takeGroupings,
  updateRecord,
} from "../document/edits";
import { updateLayer, updateMask } from "../document/layerEdits";
import { FRESH_MERGE, setMerge, takeMerge } from "../document/mergeEdits";
import type { ModelChoice } from "../core/register/models";
import type { Development, FrameRecord, MergeRecord, Records, SetRecord } from "../document/records/types";
import { activeFramesOf, exposuresOf, framesOf, mergeOf, panoramaOf, regionsOf, registrationOf, setsOf, workingSetOf } from "../document/selectors";
import type { Finding, Remedy } from "../document/finding";
import { proposeReference } from "../document/proposeReference";
import { blockingAspects } from "../document/sets";
import { edit, openJob, setStage } from "./openJob";
import { notify, useSession } from "./store";
import { JOB_LIMITS, overSetLimit } from "../document/limits";
import { registerPanorama } from "./panorama";

const { getState: get, setState: set } = useSession;

/** Groups the frames that nobody has grouped by hand, and compares those of the set worked on. */
export async function groupFrames(): Promise<void> {
  const job = openJob();
  const { records } = get();
  const frames = groupable(records);
  if (frames.length === 0) return;
  const found = await job.run("gather", "Grouping the frames", (signal, onProgress) => job.ask("gatherSets", { records, frames }, { signal, onProgress }));
  if (!found) return;
  const { sets, order, measuredEv } = found;
  const label = sets.length === 1 ? `Taken for: ${SET_KIND_NAMES[sets[0].kind].toLowerCase()}` : `${sets.length} sets proposed`;
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

/** Sets whose frames differ by their nature: another view, another focus, another thing. */
const NOT_COMPARED: SetKind[] = ["cutout", "panorama", "sky", "focus"];

/** What registering and comparing depend on: the frames that take part, as they are developed, and what is marked on them. */
const framesTaking = (r: Records) => [workingSetOf(r)?.id, activeFramesOf(r).map((f) => [f.id, f.sourceId, f.development]), regionsOf(r)];

/** Measures what differs between the frames of the set worked on. */
export async function compareSet(): Promise<void> {
  const job = openJob();
  const asked = get().records;
  let records = asked;
  const set = workingSetOf(records);
  const frames = activeFramesOf(records);
  if (!set || frames.length < 2 || frames.length > JOB_LIMITS.framesOfSet || NOT_COMPARED.includes(set.setKind)) return;
  const parity = await job.run("gather", "Comparing the frames", async (signal, onProgress) => {
    // frames may have come from another set, where they were measured against others
    if (!registrationOf(records)) records = setMeasuredExposures(await job.ask("measureExposures", { frames }, { signal }))(records);
    return job.ask("compareFrames", { records, frames }, { signal, onProgress });
  });
  if (!parity) return;
  const measuredEv = exposuresOf(records)?.measuredEv ?? {};
  job.apply(
    asked,
    framesTaking,
    (r) => setMeasuredExposures(measuredEv)(updateRecord<SetRecord>(set.id, { parity })(r)),
    { stage: "gather", label: "Frames compared" },
    { measure: false },
  );
}

/** What makes a difference go away: the development, or the registration that undoes it. */
export function makeEqual(difference: ParityDifference): void {
  const set = workingSetOf(get().records);
  if (!set) return;
  const { aspect, frames, geometric } = difference;
  const text = { stage: "gather", label: `Made equal: ${ASPECT_NAMES[aspect].toLowerCase()} of frame ${frames.map((f) => f.number).join(", ")}` };
  const developEach = (changes: { frameId: string; change: Partial<Development> }[]) =>
    edit((r) => changes.reduce((all, { frameId, change }) => developFrames([frameId], change)(all), r), text);
  if (aspect === "lens") developEach(frames.map(({ frameId, k1 = 0 }) => ({ frameId, change: { lens: { k1, k2: 0 } } })));
  else if (aspect === "tone") developEach(frames.map(({ frameId, tone = 1 }) => ({ frameId, change: { tone: 1 / tone } })));
  else if (aspect === "whiteBalance") {
    const balances = frames.map(({ frameId, balance }) => ({ frameId, change: balance && proposeWhiteBalance([2 ** balance.redEv, 1, 2 ** balance.blueEv]) }));
    if (balances.every((b): b is { frameId: string; change: WhiteBalance } => b.change != null)) developEach(balances);
    else notify("The white balance of these frames is too far apart to be made equal by mired and Duv.");
  } else edit(acceptDifference(set.id, aspect, geometric ? "Registration makes it equal." : "Left as it is."), text);
}

/** Registers all frames that take part, to the frame given or the one proposed. */
export async function register(referenceId?: string, wanted?: ModelChoice): Promise<void> {
  const job = openJob();
  const { records } = get();
  const set = workingSetOf(records);
  const over = set && overSetLimit(records, set.id);
  if (over) return notify(over);
  if (set?.setKind === "panorama") return registerPanorama();
  const model = wanted ?? registrationOf(records)?.model ?? "auto";
  const frames = activeFramesOf(records);
  if (frames.length < 2) return notify("Registering needs at least two frames.");
  const blocking = blockingAspects(records);
  if (blocking.length > 0) {
    notify(
      `The frames differ in geometry (${blocking.map((a) => ASPECT_NAMES[a].toLowerCase()).join(", ")}). Make them equal in Gather, or say there that they differ on purpose.`,
    );
    setStage("gather");
    return;
  }
  const proposed = proposeReference(frames);
  const reference = frames.find((f) => f.id === referenceId) ?? proposed.frame;
  const reason = reference.id === proposed.frame.id ? proposed.reason : "Chosen by hand.";
  const request = { referenceId: reference.id, referenceReason: reason, model };
  const result = await job.run("register", "Registering", (signal, onProgress) => job.ask("register", { records, frames, request }, { signal, onProgress }));
  if (!result) return;
  const left = result.registration.placements.filter((p) => !p.registered).length;
  job.apply(records, framesTaking, setRegistration(result.registration, result.measuredEv), {
    stage: "register",
    label: `${frames.length - left} frames registered to frame ${frames.indexOf(reference) + 1}${left ? `, ${left} left out` : ""}`,
  });
}

/** What a merge depends on: how the frames lie, how they are developed and exposed. */
const merging = (r: Records) => [framesTaking(r), registrationOf(r), panoramaOf(r), exposuresOf(r)];

/** Makes a merge (or takes the one at hand) and makes it the job's. @param change what is to differ from the merge in force @returns whether it is */
export async function merge(method: MergeMethod, change: Partial<MergeRecord> = {}, label = MERGE_NAMES[method]): Promise<boolean> {
  const job = openJob();
  const { records } = get();
  const set = workingSetOf(records);
  const over = set && overSetLimit(records, set.id);
  if (over) {
    notify(over);
    return false;
  }
  const draft = { ...FRESH_MERGE, ...mergeOf(records), ...change, method };
  const drafted = setMerge(draft)(records);
  const facts = await job.run("merge", "Merging", async (signal, onProgress) => {
    useSession.setState({ merging: { method, records: drafted } });
    return job.ask("merge", { records: drafted, method }, { signal, onProgress }).finally(() => job.isOpen && useSession.setState({ merging: null }));
  });
  return facts !== null && job.apply(records, merging, takeMerge(draft, facts), { stage: "merge", label });
}

/** Makes the merge that suits the set; for a bracket both ways, so that they can be compared at once. */
export async function mergeAsProposed(): Promise<void> {
  const methods = methodsFor(workingSetOf(get().records)?.setKind ?? "separate");
  if (methods[0] !== "radiance") await merge(methods[0]);
  else await openJob().during(async () => (await merge("fusion")) && (await merge("radiance")));
}

/** Runs the inspection on the picture as it is. However it ends, that state is not inspected again by itself. */
export async function proof(): Promise<void> {
  const job = openJob();
  const { records } = get();
  if (!mergeOf(records)) return;
  set({ inspected: records });
  const findings = await job.run("proof", "Inspecting", (signal, onProgress) => job.ask("proof", { records }, { signal, onProgress }));
  if (!findings || get().records !== records) return;
  set({ findings });
  job.touch();
}

/** Carries out a finding's remedy as one step. */
export function remedy(finding: Finding, what: Remedy): void {
  const text = { stage: "proof", label: `${finding.title}: ${what.label.toLowerCase()}` };
  if (what.kind === "setAdjustment") edit(setAdjustment(what.type, what.values), text);
  else if (what.kind === "resetAdjustment") edit(resetAdjustment(what.type), text);
  else if (what.kind === "removeLayer") edit(removeLayer(what.layerId), text);
  else if (what.kind === "changeLayer") edit(updateLayer(what.layerId, what.change), text);
  else if (what.kind === "changeMask") edit(updateMask(what.layerId, what.change), text);
  else if (what.kind === "crop") edit(cropToProposed, text);
}

/** The crop that the registration proposes, without a turn. */
export function cropToProposed(records: Records): Records {
  const registration = registrationOf(records);
  return registration ? setGeometry({ angleDeg: 0, crop: registration.proposedCrop, ratio: null })(records) : records;
}
