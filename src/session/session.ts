import { create } from "zustand";
import type { MergeMethod } from "../core/merge/mergeMethods";
import { startJob, takeStep, type Edit, type StepText } from "../document/edits";
import { EMPTY_HISTORY, moveHead, recordsAt, redoTarget, stepById, type History } from "../document/history";
import { DOCUMENT_VERSION } from "../document/migrations";
import { checkRecord, parseDocument } from "../document/parseDocument";
import type { Records } from "../document/records/types";
import { acceptancesOf, framesOf, jobOf, mergeOf } from "../document/selectors";
import type { Finding } from "../engine/operations/proof/finding";
import { listJobs, loadJob, measureRoom, removeJob, removeUnusedSources, saveJob, type JobEntry, type Room } from "../storage/database";
import type { CheckedLink } from "../storage/linkedFiles";
import { sourcesOf } from "../storage/jobFile";
import { isCancelled } from "../workers/client/EngineClient";
import { engine } from "./engine";
import type { Stage } from "./stages";

export interface Busy {
  stage: Stage;
  what: string;
  share: number;
  stop: () => void;
}

/** A sentence for the person that stays until it is read. */
export interface Notice {
  id: number;
  text: string;
}

export type Compare = { mode: "off" | "flip" | "split" | "side"; against: string };

export interface SessionState {
  jobId: string | null;
  history: History;
  records: Records;
  readOnly: boolean;
  saved: "saved" | "saving" | "unsaved";
  savedAt: string | null;
  lastCopyAt: string | null;
  room: Room | null;
  stage: Stage;
  busy: Busy | null;
  /** a merge that is being made, and the records it would make */
  merging: { method: MergeMethod; records: Records } | null;
  notices: Notice[];
  findings: Finding[] | null;
  /** sources that were left in folders on disk */
  links: CheckedLink[];
  lastExportAt: string | null;
  panelsFolded: boolean;
  logbookOpen: boolean;
  jobs: JobEntry[];
}

export const useSession = create<SessionState>(() => ({
  jobId: null,
  history: EMPTY_HISTORY,
  records: {},
  readOnly: false,
  saved: "saved",
  savedAt: null,
  lastCopyAt: null,
  room: null,
  stage: "gather",
  busy: null,
  merging: null,
  notices: [],
  findings: null,
  links: [],
  lastExportAt: null,
  panelsFolded: false,
  logbookOpen: false,
  jobs: [],
}));

const { getState: get, setState: set } = useSession;

let noticeId = 1;
export function notify(text: string): void {
  set({
    notices: [
      ...get()
        .notices.filter((n) => n.text !== text)
        .slice(-4),
      { id: noticeId++, text },
    ],
  });
}

export function dismiss(id: number): void {
  set({ notices: get().notices.filter((n) => n.id !== id) });
}

/** One sentence of whatever was thrown; a stop by the person says nothing. */
export function report(error: unknown): void {
  if (isCancelled(error)) return;
  notify(error instanceof Error ? error.message : String(error));
}

let saving: ReturnType<typeof setTimeout> | null = null;

function saveSoon(): void {
  set({ saved: "unsaved" });
  if (saving) return;
  saving = setTimeout(() => {
    saving = null;
    void saveNow();
  }, 250);
}

/** Writes the job into the browser's database. */
export async function saveNow(): Promise<void> {
  const { jobId, history, records, readOnly, stage, lastCopyAt } = get();
  if (!jobId || readOnly) return;
  set({ saved: "saving" });
  const updatedAt = new Date().toISOString();
  try {
    await saveJob({
      id: jobId,
      name: jobOf(records)?.name ?? "Job",
      updatedAt,
      lastCopyAt,
      stage,
      frames: framesOf(records).length,
      job: { version: DOCUMENT_VERSION, id: jobId, history },
    });
    set({ saved: get().history === history ? "saved" : "unsaved", savedAt: updatedAt });
  } catch (error) {
    set({ saved: "unsaved" });
    report(error);
  }
}

/** Carries out an edit as one step of the logbook and measures what it did. */
export function edit(change: Edit, text: StepText, options: { measure?: boolean } = {}): void {
  const { history, records, readOnly } = get();
  if (readOnly) {
    notify("This job is open in another tab, so it can only be looked at here.");
    return;
  }
  const taken = takeStep(history, records, change, text, new Date().toISOString());
  if (!taken.step) return;
  for (const record of [...Object.values(taken.step.diff.added), ...Object.values(taken.step.diff.updated).map(([, to]) => to)]) checkRecord(record);
  set({ history: taken.history, records: taken.records, findings: null });
  saveSoon();
  if (options.measure !== false && mergeOf(records) && mergeOf(taken.records)) void measureStep(taken.step.id, records, taken.records);
}

async function measureStep(stepId: string, before: Records, after: Records): Promise<void> {
  try {
    const effect = await engine.call("measureEffect", { before, after });
    if (!effect) return;
    const { history } = get();
    set({ history: { ...history, steps: history.steps.map((s) => (s.id === stepId ? { ...s, effect } : s)) } });
    saveSoon();
  } catch {
    // a step without a measured effect is shown as "not measured"
  }
}

export function setNote(stepId: string, note: string): void {
  const { history } = get();
  set({ history: { ...history, steps: history.steps.map((s) => (s.id === stepId ? { ...s, note } : s)) } });
  saveSoon();
}

export function goTo(target: string | null): void {
  const { history, records, readOnly } = get();
  if (readOnly || target === history.head) return;
  set({ ...moveHead(history, records, target), findings: null });
  saveSoon();
}

export function undo(): void {
  const { history } = get();
  const head = stepById(history, history.head);
  // the first step is the job itself
  if (head?.parent) goTo(head.parent);
}

export function redo(): void {
  const target = redoTarget(get().history);
  if (target) goTo(target.id);
}

/** Runs a long task with progress and a stop; the job stays as it was when it is stopped or fails. */
export async function runTask<T>(
  stage: Stage,
  what: string,
  work: (signal: AbortSignal, onProgress: (share: number, what: string) => void) => Promise<T>,
): Promise<T | null> {
  const controller = new AbortController();
  get().busy?.stop();
  const stop = () => controller.abort();
  const mine: Busy = { stage, what, share: 0, stop };
  set({ busy: mine });
  try {
    return await work(controller.signal, (share, now) => {
      if (get().busy?.stop === stop) set({ busy: { stage, what: now, share, stop } });
    });
  } catch (error) {
    report(error);
    return null;
  } finally {
    if (get().busy?.stop === stop) set({ busy: null });
  }
}

export function setStage(stage: Stage): void {
  if (get().stage === stage) return;
  set({ stage });
  saveSoon();
}

/** Tries to become the one tab that may change a job. */
async function lockJob(id: string): Promise<boolean> {
  releaseLock?.();
  if (!navigator.locks) return true;
  return new Promise((resolve) => {
    void navigator.locks.request(`marsh-job-${id}`, { ifAvailable: true }, (lock) => {
      resolve(lock !== null);
      return lock ? new Promise<void>((release) => (releaseLock = release)) : undefined;
    });
  });
}
let releaseLock: (() => void) | null = null;

async function show(entry: { id: string; history: History; records: Records; lastCopyAt: string | null; stage: Stage }): Promise<void> {
  if (saving) {
    clearTimeout(saving);
    saving = null;
    await saveNow();
  }
  const mayWrite = await lockJob(entry.id);
  set({
    jobId: entry.id,
    history: entry.history,
    records: entry.records,
    lastCopyAt: entry.lastCopyAt,
    stage: entry.stage,
    readOnly: !mayWrite,
    findings: null,
    links: [],
    lastExportAt: null,
    saved: "saved",
    busy: null,
    room: await measureRoom(),
  });
  if (!mayWrite) notify("This job is open in another tab, so it can only be looked at here. Close the other tab to work on it in this one.");
  try {
    localStorage.setItem("marsh-last-job", entry.id);
  } catch {
    // a browser that forgets the last job shows the list of jobs instead
  }
}

export async function newJob(name: string): Promise<void> {
  const id = crypto.randomUUID();
  await show({ id, ...startJob(name, new Date().toISOString()), lastCopyAt: null, stage: "gather" });
  await saveNow();
  await refreshJobs();
}

export async function openStoredJob(id: string): Promise<boolean> {
  try {
    const entry = await loadJob(id);
    if (!entry) return false;
    const { job, records } = parseDocument(entry.job);
    await show({ id, history: job.history, records, lastCopyAt: entry.lastCopyAt, stage: entry.stage as Stage });
    return true;
  } catch (error) {
    report(error);
    return false;
  }
}

/** Opens a job file; a job of the same id that is stored already is kept, the opened one gets an id of its own. */
export async function openJobFromFile(file: Blob): Promise<void> {
  const opened = await runTask("gather", "Opening the job file", (signal, onProgress) => engine.call("openJob", { file }, { signal, onProgress }));
  if (!opened) return;
  const taken = await loadJob(opened.job.id);
  const id = taken ? crypto.randomUUID() : opened.job.id;
  await show({ id, history: opened.job.history, records: opened.records, lastCopyAt: new Date().toISOString(), stage: "gather" });
  await saveNow();
  await refreshJobs();
}

export async function refreshJobs(): Promise<void> {
  try {
    set({ jobs: await listJobs(), room: await measureRoom() });
  } catch (error) {
    report(error);
  }
}

export async function deleteJob(id: string): Promise<void> {
  await removeJob(id);
  const left = await listJobs();
  // what is left of the job in the raster store goes too; other jobs make theirs again
  await engine.call("clearRasters", {});
  await removeUnusedSources(new Set(left.flatMap((j) => [...sourcesOf(j.job).keys()])));
  if (get().jobId === id) set({ jobId: null, history: EMPTY_HISTORY, records: {} });
  await refreshJobs();
}

export function closeJob(): void {
  void saveNow().then(refreshJobs);
  releaseLock?.();
  releaseLock = null;
  set({ jobId: null, history: EMPTY_HISTORY, records: {}, readOnly: false, findings: null, busy: null });
  try {
    localStorage.removeItem("marsh-last-job");
  } catch {
    // see show()
  }
}

export function noteCopy(): void {
  set({ lastCopyAt: new Date().toISOString() });
  void saveNow();
}

/** Findings that are neither harmless nor accepted. */
export function openFindingsOf(records: Records, findings: Finding[] | null): Finding[] {
  const accepted = new Set(acceptancesOf(records).map((a) => a.findingId));
  return (findings ?? []).filter((f) => !f.harmless && !accepted.has(f.id) && !accepted.has(`kind:${f.kind}`));
}

/** The records at any step, for comparing. */
export function recordsAtStep(stepId: string): Records {
  return recordsAt(get().history, stepId);
}
