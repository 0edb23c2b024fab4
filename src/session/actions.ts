import { addFrames, setAdjustment, setGeometry, setMerge, setRegistration, removeLayer, resetAdjustment } from "../document/edits";
import type { ModelChoice } from "../core/register/models";
import type { Records } from "../document/records/types";
import { activeFramesOf, mergeOf, registrationOf } from "../document/selectors";
import type { Finding, Remedy } from "../engine/operations/proof";
import { proposeReference } from "../document/proposeReference";
import type { ImportedFrame } from "../engine/operations/importFrame";
import { engine } from "./engine";
import { edit, measureExposuresNow, notify, runTask, useSession } from "./session";
import { measureRoom } from "../storage/database";

const { getState: get, setState: set } = useSession;

/** Room a decoded frame takes beside its file: sources, placed frames and two merges, roughly, in bytes a pixel. */
const BYTES_PER_FILE_BYTE = 40;

/** Reads picture files into the job. One bad file never stops the rest; each gets its sentence. */
export async function gather(files: { name: string; file: Blob }[]): Promise<void> {
  if (files.length === 0) return;
  const room = await measureRoom();
  const needed = files.reduce((sum, f) => sum + f.file.size, 0) * BYTES_PER_FILE_BYTE;
  if (room && room.freeBytes < needed) {
    notify(
      `The browser has ${(room.freeBytes / 1e9).toFixed(1)} GB left; these frames may need ${(needed / 1e9).toFixed(1)} GB. Remove jobs you no longer need first.`,
    );
    return;
  }
  const frames: ImportedFrame[] = [];
  const known = new Set(activeFramesOf(get().records).map((f) => f.sourceId));
  await runTask("gather", "Reading", async (signal, onProgress) => {
    for (const [i, { name, file }] of files.entries()) {
      try {
        const frame = await engine.call(
          "importFrame",
          { fileName: name, file },
          { signal, onProgress: (share, what) => onProgress((i + share) / files.length, what) },
        );
        if (known.has(frame.sourceId)) notify(`${name} is the same file as a frame that is here already; it was added all the same.`);
        known.add(frame.sourceId);
        frames.push(frame);
      } catch (error) {
        if ((error as Error).name === "CancelledError") throw error;
        notify(`${name}: ${(error as Error).message}`);
      }
    }
  });
  if (frames.length === 0) return;
  edit(addFrames(frames), { stage: "gather", label: `${frames.length} frame${frames.length === 1 ? "" : "s"} gathered` }, { measure: false });
  await measureExposuresNow();
}

/** Registers all frames that take part, to the frame given or the one proposed. */
export async function register(referenceId?: string, wanted?: ModelChoice): Promise<void> {
  const { records } = get();
  const model = wanted ?? registrationOf(records)?.model ?? "auto";
  const frames = activeFramesOf(records);
  if (frames.length < 2) {
    notify("Registering needs at least two frames.");
    return;
  }
  const proposed = proposeReference(frames);
  const reference = frames.find((f) => f.id === referenceId) ?? proposed.frame;
  const reason = reference.id === proposed.frame.id ? proposed.reason : "Chosen by hand.";
  const result = await runTask("register", "Registering", (signal, onProgress) =>
    engine.call("register", { records, frames, request: { referenceId: reference.id, referenceReason: reason, model } }, { signal, onProgress }),
  );
  if (!result) return;
  const left = result.registration.placements.filter((p) => !p.registered).length;
  edit(setRegistration(result.registration, result.measuredEv), {
    stage: "register",
    label: `${frames.length - left} frames registered to frame ${frames.indexOf(reference) + 1}${left ? `, ${left} left out` : ""}`,
  });
}

/** Makes a merge (or takes the one at hand) and makes it the job's. */
export async function merge(method: "radiance" | "fusion", weights?: { contrast: number; saturation: number; exposedness: number }): Promise<void> {
  const { records } = get();
  const old = mergeOf(records);
  const draft = setMerge({
    operationVersion: 1,
    method,
    contrast: 1,
    saturation: 1,
    exposedness: 1,
    shares: {},
    motion: [],
    ...(old && { contrast: old.contrast, saturation: old.saturation, exposedness: old.exposedness }),
    ...weights,
  })(records);
  const facts = await runTask("merge", "Merging", (signal, onProgress) => engine.call("merge", { records: draft, method }, { signal, onProgress }));
  if (!facts) return;
  const name = method === "radiance" ? "Radiance merge" : "Exposure fusion";
  edit((r) => setMerge({ ...mergeOf(draft)!, ...facts })(r), { stage: "merge", label: name });
}

/** Makes both merges so that they can be compared at once. */
export async function mergeBoth(): Promise<void> {
  await merge("fusion");
  if (mergeOf(get().records)) await merge("radiance");
}

let proofRun = 0;

/** Runs the inspection on the picture as it is. */
export async function proof(): Promise<void> {
  const { records } = get();
  if (!mergeOf(records)) return;
  const run = ++proofRun;
  await runTask("proof", "Inspecting", async (signal, onProgress) => {
    const findings = await engine.call("proof", { records }, { signal, onProgress });
    if (run === proofRun && get().records === records) set({ findings });
  });
}

/** Carries out a finding's remedy as one step. */
export function remedy(finding: Finding, what: Remedy): void {
  const text = { stage: "proof", label: `${finding.title}: ${what.label.toLowerCase()}` };
  if (what.kind === "setAdjustment") edit(setAdjustment(what.type, what.values), text);
  else if (what.kind === "resetAdjustment") edit(resetAdjustment(what.type), text);
  else if (what.kind === "removeLayer") edit(removeLayer(what.layerId), text);
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
export async function gatherDemo(job: DemoJob): Promise<void> {
  const files = await Promise.all(job.files.map(async (path) => ({ name: path.split("/").pop()!, file: await (await fetch(`/demo/${path}`)).blob() })));
  await gather(files);
}
