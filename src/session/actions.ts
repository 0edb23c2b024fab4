import { MERGE_NAMES, methodsFor, type MergeMethod } from "../core/merge/mergeMethods";
import { ASPECT_NAMES, type ParityDifference } from "../core/measure/sets/parity";
import { SET_KIND_NAMES, type SetKind } from "../core/measure/sets/setKinds";
import { atATime } from "../core/numeric/atATime";
import { proposeWhiteBalance, type WhiteBalance } from "../core/color/whiteBalance";
import {
  acceptDifference,
  addFrames,
  developFrames,
  newId,
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
import type { ImportedFrame } from "../engine/operations/gather/importFrame";
import { blockingAspects } from "../document/sets";
import type { JobScope } from "./JobScope";
import { edit, openJob, setStage } from "./openJob";
import { Refusal } from "../core/refusal";
import { notify, report, useSession } from "./store";
import { JOB_LIMITS, overSetLimit } from "../document/limits";
import { isCancelled } from "../workers/client/EngineClient";
import { registerPanorama } from "./panorama";
import { toldOf } from "./toldOf";
import { measureRoom } from "../storage/room";
import { missingSources } from "../storage/sourceStore";

const { getState: get, setState: set } = useSession;

/** Room a decoded frame takes beside its file: sources, placed frames and two merges, roughly, in bytes a pixel. */
const BYTES_PER_FILE_BYTE = 40;

/** Reads picture files into the job that is open. One bad file never stops the rest; each gets its sentence. What was read until a stop is kept. */
export async function gather(files: PictureFile[]): Promise<void> {
  const job = openJob();
  if (files.length > 0) await job.during(() => gatherInto(job, files));
}

/** A picture file that was chosen or dropped. @property folderId where it stays in its folder */
export interface PictureFile {
  name: string;
  file: Blob;
  folderId?: string;
}

/** Files that are read side by side: as many as there are cores, but few, for each takes its decoded size in memory. */
const filesAtATime = () => Math.max(1, Math.min(4, globalThis.navigator?.hardwareConcurrency ?? 1));

/** So many frames are kept one by one; of more, what has come is kept now and then. */
const KEPT_ONE_BY_ONE = 32;
const KEPT_EVERY_MS = 2000;

/** Frames are kept as they come, in the order of their files, so that a browser that dies loses none that was read. They are one step where nothing else is done meanwhile. */
class ArrivingFrames {
  private grow: ReturnType<JobScope["growingStep"]>;
  private frames: { frame: ImportedFrame; id: string; place: number }[] = [];
  private waiting: typeof this.frames = [];
  private keptAt = 0;
  private any = false;

  constructor(private readonly job: JobScope) {
    this.grow = job.growingStep();
  }

  add(frame: ImportedFrame, place: number): void {
    this.waiting.push({ frame, id: newId("frame"), place });
    if (this.frames.length < KEPT_ONE_BY_ONE || Date.now() - this.keptAt > KEPT_EVERY_MS) this.keep();
  }

  /** Keeps what is not kept yet. @returns whether any frame came */
  finish(): boolean {
    this.keep();
    return this.any;
  }

  private keep(): void {
    if (this.waiting.length === 0) return;
    const all = [...this.frames, ...this.waiting].sort((a, b) => a.place - b.place);
    if (this.take(all)) this.frames = all;
    else {
      // something else was done: those that are there stay as they are
      this.grow = this.job.growingStep();
      this.frames = [...this.waiting].sort((a, b) => a.place - b.place);
      if (!this.take(this.frames)) return;
    }
    this.waiting = [];
    this.keptAt = Date.now();
    this.any = true;
  }

  private take(frames: typeof this.frames): boolean {
    const change = addFrames(
      frames.map((f) => f.frame),
      frames.map((f) => f.id),
    );
    return this.grow(change, { stage: "gather", label: `${frames.length} frame${frames.length === 1 ? "" : "s"} gathered` });
  }
}

async function gatherInto(job: JobScope, files: PictureFile[]): Promise<void> {
  const room = await measureRoom();
  const needed = files.reduce((sum, f) => sum + f.file.size, 0) * BYTES_PER_FILE_BYTE;
  if (room && room.freeBytes < needed) {
    notify(
      `The browser has ${(room.freeBytes / 1e9).toFixed(1)} GB left; these frames may need ${(needed / 1e9).toFixed(1)} GB. Remove jobs you no longer need first.`,
    );
    return;
  }
  const space = JOB_LIMITS.frames - framesOf(get().records).length;
  if (files.length > space) notify(`A job holds at most ${JOB_LIMITS.frames} frames: the first ${Math.max(0, space)} of these ${files.length} are read.`);
  const reading = files.slice(0, Math.max(0, space));
  const arriving = new ArrivingFrames(job);
  const known = new Set(framesOf(get().records).map((f) => f.sourceId));
  const missing = new Set(await missingSources([...known]).catch(() => []));
  let givenBack = 0;
  const finished = await job.run("gather", "Reading", async (signal, onProgress) => {
    let done = 0;
    const readOne = async ({ name, file, folderId }: PictureFile, i: number) => {
      try {
        const onFrame = (share: number, what: string) => onProgress((done + share) / reading.length, what);
        const frame = await job.ask("gatherFile", { jobId: job.id, fileName: name, file, folderId }, { signal, onProgress: onFrame });
        if (missing.delete(frame.sourceId)) {
          givenBack++;
          return;
        }
        if (known.has(frame.sourceId)) notify(`${name} is the same file as a frame that is here already; it was added all the same.`);
        known.add(frame.sourceId);
        arriving.add(frame, i);
      } catch (error) {
        if (isCancelled(error)) throw error;
        const { text, code } = toldOf(error);
        notify(`${name}: ${text}`, code);
      } finally {
        done++;
      }
    };
    await atATime(
      reading.map((picture, i) => () => readOne(picture, i)),
      filesAtATime(),
    );
    return true;
  });
  if (givenBack > 0)
    notify(`${givenBack} source picture${givenBack === 1 ? " that was" : "s that were"} missing ${givenBack === 1 ? "is" : "are"} here again.`);
  if (!arriving.finish()) return;
  if (finished && !get().busy) await groupFrames();
}

/** Groups the frames that nobody has grouped by hand, and compares those of the set worked on. */
export async function groupFrames(): Promise<void> {
  const job = openJob();
  const { records } = get();
  const frames = groupable(records);
  if (frames.length === 0) return;
  const found = await job.run("gather", "Grouping the frames", (signal, onProgress) => job.ask("gatherSets", { records, frames }, { signal, onProgress }));
  if (!found) return;
  const { sets, measuredEv } = found;
  const label = sets.length === 1 ? `Taken for: ${SET_KIND_NAMES[sets[0].kind].toLowerCase()}` : `${sets.length} sets proposed`;
  const taken = job.apply(
    records,
    (r) => groupable(r).map((f) => [f.id, f.setId]),
    (r) => takeGroupings(sets)(setMeasuredExposures(measuredEv)(r)),
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

export interface DemoJob {
  id: string;
  name: string;
  kind: string;
  about: string;
  files: string[];
}

export async function listDemoJobs(): Promise<DemoJob[]> {
  return ((await (await fetch("/demo/jobs.json")).json()) as { jobs: DemoJob[] }).jobs;
}

/** Gathers a demo job's frames into the open job. */
export async function gatherDemo(demo: DemoJob): Promise<void> {
  const fetched = async (path: string): Promise<PictureFile> => {
    const answer = await fetch(`/demo/${path}`).catch(() => null);
    if (!answer?.ok) throw new Refusal("notLoaded", "The demo's pictures could not be loaded. Look at the connection and try again.");
    return { name: path.split("/").pop()!, file: await answer.blob() };
  };
  try {
    await gather(await Promise.all(demo.files.map(fetched)));
  } catch (error) {
    report(error);
  }
}
