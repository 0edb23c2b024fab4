import { startJob } from "../document/edits";
import { EMPTY_HISTORY, type History } from "../document/history";
import { DOCUMENT_VERSION } from "../document/migrations";
import { DocumentError, parseDocument, salvageDocument } from "../document/parseDocument";
import { isFinding, type Finding } from "../document/finding";
import type { Records } from "../document/records/types";
import type { JobEntry } from "../storage/database";
import { listJobs, loadEntry, loadJob, removeJob } from "../storage/jobStore";
import type { OpenedJob } from "../storage/jobFile";
import { measureRoom } from "../storage/room";
import { remember } from "./lastJob";
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
  const job = openJobOrNone();
  if (job && !(await job.close())) {
    notify("This job could not be stored, so it stays open. Save it as a job file in Hand over, then make room.");
    return false;
  }
  if (openJobOrNone() === job) setOpenJob(null);
  remember(null);
  await refreshJobs();
  return true;
}

/** Shows a job in place of the one that is open. @param stored the history that lies in the storage already @returns whether it is shown */
async function show(shown: Shown, stored: History, mine: number): Promise<boolean> {
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
  remember(id);
  void measureRoom().then((room) => set({ room }));
  if (!lock && !damaged) lookOn(job);
  return true;
}

/** Looks on while another tab changes the job, and takes it over when that tab lets go. */
function lookOn(job: JobScope): void {
  notify("This job is open in another tab, so it can only be looked at here. When that tab closes it, it can be changed here.");
  waitForLock(job.id, job.signal, (lock) => {
    void follow(job).then((there) => {
      if (!there || !job.isOpen) return lock.release();
      job.takeOver(lock);
      notify("The other tab has closed this job: it can be changed here now.");
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
    remember(null);
    notify("This job was removed in another tab.");
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
  notify(
    `This job is damaged: ${job.history.steps.length} of its ${job.history.steps.length + lost} steps can be read. They can be looked at here; saved as a job file in Hand over and opened from there, they can be worked on.`,
  );
  return { id: entry.id, history: job.history, records, lastCopyAt: entry.lastCopyAt, stage: "gather", damaged: true };
}

export async function openStoredJob(id: string): Promise<boolean> {
  const mine = ++opening;
  try {
    const found = await loadJob(id);
    if (!found || mine !== opening) return false;
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
  set({ busy: { stage: "gather", what: "Opening the job file", share: 0, stop: () => controller.abort() } });
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

function sayWhatIsLost({ job, lost, missing }: Pick<OpenedJob, "job" | "lost" | "missing">): void {
  const steps = job.history.steps.length;
  if (lost > 0) notify(`The job file is damaged: ${steps} of its ${steps + lost} steps can be read and were opened; the file is as it was.`);
  if (missing.length === 0) return;
  notify(`The job file lacks these source pictures, or they are damaged: ${named(missing)}. Gather their files again: they are recognised.`);
}

export async function refreshJobs(): Promise<void> {
  try {
    set({ jobs: await listJobs(), room: await measureRoom(), threads: chosenThreads() });
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

/** Removes a job with its sources. One that is open in another tab stays. */
export async function deleteJob(id: string): Promise<void> {
  const job = openJobOrNone();
  if (job?.id === id) {
    await job.close(true);
    setOpenJob(null);
    remember(null);
  }
  const lock = await takeLock(id);
  if (!lock) {
    notify("This job is open in another tab. Close it there, then remove it.");
    return;
  }
  try {
    await removeJob(id);
    tell({ removed: id });
    await engine.call("letRastersGo", { jobId: id });
  } catch (error) {
    report(error);
  } finally {
    lock.release();
  }
  await refreshJobs();
}
