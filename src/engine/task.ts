import { ToldError, type Telling } from "../messages/message";

/** A long task was stopped; the job stays as it was. */
export class CancelledError extends ToldError {
  override readonly name = "CancelledError";
  constructor() {
    super("task.stopped");
  }
}

/** What a running task may ask of its host. */
export interface Task {
  /** Reports progress and lets other requests through; throws CancelledError where the person stopped the task. */
  step(done: number, total: number, what: Telling): Promise<void>;
}

/** A task nobody watches. */
export const SILENT: Task = { step: async () => {} };

/** A share of a larger task: maps its own progress onto [from, to] of the whole. */
export function portion(task: Task, from: number, to: number): Task {
  return { step: (done, total, what) => task.step(from + ((to - from) * done) / Math.max(1, total), 1, what) };
}

/** The same task, letting others through at most every `ms`: for short work that somebody waits for. */
export function seldom(task: Task, ms: number): Task {
  let last = performance.now();
  return {
    step: async (...args) => {
      if (performance.now() - last < ms) return;
      await task.step(...args);
      last = performance.now();
    },
  };
}
