import { message } from "../messages/message";
import { leaveControl } from "./leaveControl";
import { renameJob, startJob, takeStep } from "../document/edits";
import { EMPTY_HISTORY, type History } from "../document/history";
import { DOCUMENT_VERSION } from "../document/migrations/migrations";
import { DocumentError, parseDocument, salvageDocument } from "../document/parseDocument";
import { isFinding, type Finding } from "../document/finding";
import type { Records } from "../document/records/types";
import type { JobEntry } from "../storage/database";
import { changeEntry, listJobs, loadEntry, loadJob, loadPicture, removeJob, saveJob, savePicture, sizesOnDisk } from "../storage/jobStore";
import type { OpenedJob } from "../storage/jobFile";
import { measureRoom } from "../storage/room";
import { chooseThreads, chosenThreads } from "./threads";
import { dropLeases } from "../storage/sourceStore";
import { engine } from "./engine";
import { JobScope } from "./JobScope";
import { openJobOrNone, setOpenJob } from "./openJob";
import { named } from "./named";
import { STAGES, type Stage } from "./stages";
import { NO_JOB, notify, report, useSession } from "./store";
import { hear, takeLock, tell, waitForLock } from "./tabs";

const { setState: set } = useSession;

/** Which opening is the latest: one that was overtaken by another does nothing any more. */
let opening = 0;

interface Shown {
  id: string;
  history: History;
  records: Records;
  lastCopyAt: string | null;
  stage: Stage;
  findings?: Finding[] | null;
  /** a damaged job of which what is whole can be looked at; it is stored as it is */
  damaged?: boolean;
}

/** Closes the job that is open. @returns false where it could not be stored; it stays open then, and that is said */
export async function closeJob(): Promise<boolean> {
  leaveControl();
  const job = openJobOrNone();
  if (job && !(await job.close())) {
    notify("job.notStored");
    return false;
  }
  if (openJobOrNone() === job) setOpenJob(null);
  await refreshJobs();
  return true;
}

/** Jobs on their way to being shown; one may be overtaken by another. */
let switching = 0;

/** Shows a job in place of the one that is open. @param stored the history that lies in the storage already @returns whether it is shown */
async function show(shown: Shown, stored: History, mine: number): Promise<boolean> {
  set({ isSwitching: ++switching > 0 });
  try {
    return await switchTo(shown, stored, mine);
  } finally {
    set({ isSwitching: --switching > 0 });
  }
}

async function switchTo(shown: Shown, stored: History, mine: number): Promise<boolean> {
  const before = openJobOrNone();
  if (before?.id === shown.id) return true;
  if (before && !(await closeJob())) return false;
  const lock = shown.damaged ? null : await takeLock(shown.id);
  if (mine !== opening) {
    lock?.release();
    return false;
  }
  // what a tab that ended amid gathering left behind
  if (lock && stored.steps.length > 0) await dropLeases(shown.id).catch(report);
  const job = new JobScope(shown.id, stored, lock);
  setOpenJob(job);
  void engine.call("workOn", { jobId: job.id }).catch(report);
  const { id, history, records, lastCopyAt, stage, findings = null, damaged = false } = shown;
  set({ ...NO_JOB, jobId: id, history, records, lastCopyAt, stage, readOnly: !lock, damaged, findings, inspected: findings ? records : null });
  void measureRoom().then((room) => set({ room }));
  if (!lock && !damaged) lookOn(job);
  return true;
}

/** Looks on while another tab changes the job, and takes it over when that tab lets go. */
function lookOn(job: JobScope): void {
  notify("tab.lookOnlyUntil");
  waitForLock(job.id, job.signal, (lock) => {
    void follow(job).then((there) => {
      if (!there || !job.isOpen) return lock.release();
      job.takeOver(lock);
      notify("tab.closed");
    });
  });
}

/** Shows what another tab has stored of the job that is looked at. @returns whether it is still there */
async function follow(job: JobScope): Promise<boolean> {
  try {
    const found = await loadJob(job.id);
    if (!found) return false;
    if (!job.isOpen || job.mayChange) return true;
    const shown = shownOf(found.entry, found.steps);
    job.follow(shown.history);
    set({ history: shown.history, records: shown.records, findings: shown.findings ?? null });
    return true;
  } catch (error) {
    report(error);
    return true;
  }
}

hear((message) => {
  const job = openJobOrNone();
  if ("removed" in message && job?.id === message.removed) {
    job.end();
    setOpenJob(null);
    notify("tab.removed");
  } else if ("saved" in message && job?.id === message.saved && !job.mayChange) void follow(job);
  if (!openJobOrNone()) void refreshJobs();
});

function shownOf(entry: JobEntry, steps: History["steps"]): Shown {
  const { job, records } = parseDocument({ version: entry.version, id: entry.id, history: { steps, head: entry.head } }, "storage");
  const findings =
    entry.proof && entry.proof.head === job.history.head && Array.isArray(entry.proof.findings) && entry.proof.findings.every(isFinding)
      ? entry.proof.findings
      : null;
  const stage = STAGES.find((s) => s === entry.stage) ?? "gather";
  return { id: entry.id, history: job.history, records, lastCopyAt: entry.lastCopyAt, stage, findings };
}

export async function newJob(name: string): Promise<void> {
  const mine = ++opening;
  const shown: Shown = { id: crypto.randomUUID(), ...startJob(name, new Date().toISOString()), lastCopyAt: null, stage: "gather" };
  if (!(await show(shown, EMPTY_HISTORY, mine))) return;
  const job = openJobOrNone();
  job?.touch();
  await job?.flush();
  await refreshJobs();
}

/** What is whole of a stored job that is damaged, to be looked at and saved as a job file. */
function safeView(entry: JobEntry, steps: History["steps"]): Shown {
  const { job, records, lost } = salvageDocument({ version: entry.version, id: entry.id, history: { steps, head: entry.head } });
  const read = job.history.steps.length;
  notify(message("job.safeView", { read, all: read + lost }));
  return { id: entry.id, history: job.history, records, lastCopyAt: entry.lastCopyAt, stage: "gather", damaged: true };
}

export async function openStoredJob(id: string): Promise<boolean> {
  const mine = ++opening;
  try {
    const found = await loadJob(id);
    if (!found || found.entry.removedAt !== null || mine !== opening) return false;
    let shown: Shown;
    try {
      shown = shownOf(found.entry, found.steps);
    } catch (error) {
      if (!(error instanceof DocumentError && error.reason === "damaged")) throw error;
      shown = safeView(found.entry, found.steps);
    }
    // steps that were written by an older version are written anew as they are now
    return await show(shown, found.entry.version === DOCUMENT_VERSION ? shown.history : EMPTY_HISTORY, mine);
  } catch (error) {
    report(error);
    return false;
  }
}

/** Opens a job file; a job of the same id that is stored already is kept, the opened one gets an id of its own. Frames that are being read are read first. */
export async function openJobFromFile(file: Blob): Promise<void> {
  const before = openJobOrNone();
  if (before) await before.whenIdle();
  const mine = ++opening;
  const controller = new AbortController();
  set({ busy: { stage: "gather", what: "task.openingJob", share: 0, stop: () => controller.abort() } });
  const fresh = crypto.randomUUID();
  try {
    const opened = await engine.call(
      "openJob",
      { file, jobId: fresh },
      { signal: controller.signal, onProgress: (share, what) => set({ busy: { stage: "gather", what, share, stop: () => controller.abort() } }) },
    );
    set({ busy: null });
    const id = (await loadEntry(opened.job.id)) ? fresh : opened.job.id;
    const { history } = opened.job;
    if (!(await show({ id, history, records: opened.records, lastCopyAt: new Date().toISOString(), stage: "gather" }, EMPTY_HISTORY, mine))) return;
    const job = openJobOrNone();
    job?.touch();
    await job?.flush();
    sayWhatIsLost(opened);
  } catch (error) {
    set({ busy: null });
    report(error);
  } finally {
    // the job names its sources itself now, or it was never opened
    await dropLeases(fresh).catch(report);
    await refreshJobs();
  }
}

/** Opens several job files, one after the other: all are stored, the last is shown. */
export async function openJobFiles(files: Blob[]): Promise<void> {
  for (const file of files) await openJobFromFile(file);
}

function sayWhatIsLost({ job, lost, missing }: Pick<OpenedJob, "job" | "lost" | "missing">): void {
  const steps = job.history.steps.length;
  if (lost > 0) notify(message("job.partlyRead", { read: steps, all: steps + lost }));
  if (missing.length === 0) return;
  notify(message("job.lacksSources", { names: named(missing) }));
}

export async function refreshJobs(): Promise<void> {
  try {
    const jobs = await listJobs();
    set({ jobs, sizes: await sizesOnDisk(jobs), room: await measureRoom(), threads: chosenThreads() });
    // the engine may be starting still: the list does not wait for it
    void engine.call("rasterUse", {}).then(
      (rasterUse) => set({ rasterUse }),
      () => undefined,
    );
  } catch (error) {
    report(error);
  }
}

/** Lets all intermediate pictures go: they are made again where they are needed. */
export async function letPicturesGo(): Promise<void> {
  try {
    await engine.call("letRastersGo", { jobId: null });
  } catch (error) {
    report(error);
  }
  await refreshJobs();
}

/** Computes on so many threads from now on; null: all cores. */
export function computeOn(threads: number | null): void {
  chooseThreads(threads);
  set({ threads: chosenThreads() });
  engine.restart();
}

/** Days that a removed job can be taken back. */
const KEPT_DAYS = 7;

/** Does something to a stored job; one that is open here is closed for it. A job that is open in another tab is left alone, with a sentence. @returns whether it was done */
async function withLock(id: string, work: () => Promise<void>): Promise<boolean> {
  const job = openJobOrNone();
  if (job?.id === id) {
    await job.close(true);
    setOpenJob(null);
  }
  const lock = await takeLock(id);
  if (!lock) {
    notify("tab.closeFirst");
    return false;
  }
  try {
    await work();
    return true;
  } catch (error) {
    report(error);
    return false;
  } finally {
    lock.release();
    await refreshJobs();
  }
}

/** Takes a job off the list; for some days it can be taken back. */
export async function removeFromList(id: string): Promise<void> {
  if (await withLock(id, () => changeEntry(id, { removedAt: new Date().toISOString() }))) tell({ removed: id });
}

export const takeBack = (id: string): Promise<boolean> => withLock(id, () => changeEntry(id, { removedAt: null }));

/** Removes a job with its sources, for good. */
export async function deleteJob(id: string): Promise<void> {
  const deleted = await withLock(id, async () => {
    await removeJob(id);
    await engine.call("letRastersGo", { jobId: id }).catch(report);
  });
  if (deleted) tell({ removed: id });
}

/** Lets jobs go that were removed long ago. */
export async function letRemovedGo(now = Date.now()): Promise<void> {
  const old = (await listJobs()).filter((j) => j.removedAt !== null && now - Date.parse(j.removedAt) > KEPT_DAYS * 86_400_000);
  for (const { id } of old) await deleteJob(id);
}

/** Names a stored job anew, as a step of it. */
export async function renameStored(id: string, name: string): Promise<void> {
  await withLock(id, async () => {
    const found = await loadJob(id);
    if (!found) return;
    const { history, records } = shownOf(found.entry, found.steps);
    const renamed = takeStep(history, records, renameJob(name), { stage: "gather", label: message("step.named", { name }) }, new Date().toISOString());
    if (!renamed.step) return;
    const all = renamed.history.steps.map((step, place) => [place, step] as const);
    // steps that an older version wrote are written anew as they are now
    const changed = found.entry.version === DOCUMENT_VERSION ? all.slice(found.steps.length) : all;
    await saveJob({ ...found.entry, name, version: DOCUMENT_VERSION, head: renamed.history.head, updatedAt: new Date().toISOString() }, changed, true);
  });
}

/** A second job with the same steps and sources. */
export async function duplicateJob(id: string): Promise<void> {
  try {
    const [found, picture] = [await loadJob(id), await loadPicture(id)];
    if (!found) return;
    const copy = { ...found.entry, id: crypto.randomUUID(), lastCopyAt: null, updatedAt: new Date().toISOString() };
    await saveJob(
      copy,
      found.steps.map((step, place) => [place, step] as const),
    );
    if (picture) await savePicture(copy.id, picture);
    const taken = new Set((await listJobs()).map((j) => j.name));
    const names = ["copy", ...Array.from({ length: taken.size + 1 }, (_, i) => `copy ${i + 2}`)].map((word) => `${found.entry.name}, ${word}`);
    await renameStored(
      copy.id,
      names.find((name) => !taken.has(name))!,
    );
  } catch (error) {
    report(error);
  }
}
