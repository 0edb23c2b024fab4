import { Refusal } from "../core/refusal";
import { redoTarget, recordsAt, stepById } from "../document/history";
import type { Edit, StepText } from "../document/edits";
import type { Records } from "../document/records/types";
import type { CallOptions } from "../workers/client/EngineClient";
import type { RequestName, Params, Result } from "../workers/protocol/requests";
import type { JobScope } from "./JobScope";
import { showLive } from "./live";
import type { Stage } from "./stages";
import { useSession } from "./store";

const { getState: get, setState: set } = useSession;

let open: JobScope | null = null;

/** The job that is open in this tab. What takes time takes it first and goes on with it, whatever is open by then. @throws Refusal where none is open */
export function openJob(): JobScope {
  if (!open?.isOpen) throw new Refusal("gone", "job.noneOpen");
  return open;
}

/** The same where there may be none. */
export const openJobOrNone = (): JobScope | null => (open?.isOpen ? open : null);

/** For what opens jobs only. */
export const setOpenJob = (job: JobScope | null): void => {
  open = job;
  showLive(null);
};

/** Carries out an edit of the open job as one step of the logbook. */
export function edit(change: Edit, text: StepText, options?: { measure?: boolean }): boolean {
  showLive(null);
  return openJob().edit(change, text, options);
}

/** Asks the engine for the open job; nothing comes back once that job is closed. */
export const ask = <K extends RequestName>(name: K, params: Params<K>, options?: CallOptions): Promise<Result<K>> => openJob().ask(name, params, options);

/** Runs a long task of the open job. @returns null where it was stopped, failed, or the job was closed */
export const runTask: JobScope["run"] = (...args) => openJob().run(...args);

export const setNote = (stepId: string, note: string): void => openJob().setNote(stepId, note);
export const goTo = (target: string | null): void => openJobOrNone()?.goTo(target);

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

export function setStage(stage: Stage): void {
  if (get().stage === stage) return;
  showLive(null);
  set({ stage });
  openJobOrNone()?.touch();
}

/** A copy of the job left the browser. */
export function noteCopy(): void {
  set({ lastCopyAt: new Date().toISOString() });
  openJobOrNone()?.touch();
}

/** The records at any step, for comparing. */
export function recordsAtStep(stepId: string): Records {
  return recordsAt(get().history, stepId);
}
