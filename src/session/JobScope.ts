import { asMessage, message, type Telling } from "../messages/message";
import { takeStep, type Edit, type StepText } from "../document/edits";
import { openFindingsOf } from "../document/finding";
import { moveHead, stepById, type History, type Step } from "../document/history";
import { sortedText } from "../document/sortedText";
import { overLimit } from "../document/limits";
import { DOCUMENT_VERSION } from "../document/migrations/migrations";
import { checkRecord } from "../document/parseDocument";
import type { Records } from "../document/records/types";
import { framesOf, jobOf, mergeOf, workingSetOf } from "../document/selectors";
import { sourceIdsOf } from "../document/sourceIds";
import { saveJob } from "../storage/jobStore";
import { RemoteError, type CallOptions } from "../workers/client/EngineClient";
import type { RequestName, Params, Result } from "../workers/protocol/requests";
import { engine } from "./engine";
import { EffectQueue } from "./EffectQueue";
import { SaveQueue } from "./SaveQueue";
import { reachedStage, type Stage } from "./stages";
import { NO_JOB, notify, report, useSession, type Busy } from "./store";
import { tell, type HeldLock } from "./tabs";

const { getState: get, setState: set } = useSession;

/** What ends with a job: a task whose job is gone has nowhere to put its result. */
const gone = () => new RemoteError("CancelledError", "job.closed");

/** How long a stopped task may take to let go before the job is closed without it, ms. */
const PATIENCE_MS = 3000;
const later = (ms: number) => new Promise<void>((go) => setTimeout(go, ms));

type Report = (share: number, what: Telling) => void;

/** The state that an edit begins from in place of the one of now, and the step it takes the place of. */
interface Instead {
  history: History;
  records: Records;
  stepId?: string;
}

/**
 * One open job: its right to be changed, its saves, its tasks. Everything that takes time and then changes the job goes through the scope that was
 * open when it was asked for, so that no result can land in another job.
 */
export class JobScope {
  private readonly ending = new AbortController();
  private readonly saves: SaveQueue;
  private readonly effects: EffectQueue;
  private tasks = 0;
  private closing = false;
  private idle: (() => void)[] = [];

  /** @param stored the steps that lie in the storage already @param lock null where another tab may change the job and this one looks on */
  constructor(
    readonly id: string,
    stored: History,
    private lock: HeldLock | null,
  ) {
    this.saves = new SaveQueue(
      {
        snapshot: () => this.snapshot(),
        write: async (entry, steps, others) => {
          await saveJob(entry, steps, others);
          tell({ saved: this.id });
        },
        onCleared: () => notify("storage.clearedOpen"),
        onState: (saved) => this.isOpen && set(saved === "saved" ? { saved, savedAt: new Date().toISOString() } : { saved }),
        onError: report,
      },
      stored.steps,
    );
    this.effects = new EffectQueue((before, after, signal) => this.ask("measureEffect", { before, after }, { signal }));
  }

  /** Whether it is about to be closed: its tasks were ended for that, and nothing is begun any more. */
  get isClosing(): boolean {
    return this.closing;
  }

  get isOpen(): boolean {
    return !this.ending.signal.aborted;
  }

  get mayChange(): boolean {
    return this.isOpen && this.lock !== null;
  }

  /** Ends with the scope. */
  get signal(): AbortSignal {
    return this.ending.signal;
  }

  /** Asks the engine for this job. Once the job is closed nothing comes back but a cancellation, whatever the engine answers. */
  async ask<K extends RequestName>(name: K, params: Params<K>, options: CallOptions = {}): Promise<Result<K>> {
    if (!this.isOpen) throw gone();
    const signal = options.signal ? AbortSignal.any([options.signal, this.signal]) : this.signal;
    const result = await engine.call(name, params, { ...options, signal });
    if (!this.isOpen) throw gone();
    return result;
  }

  /** Runs a long task with progress and a stop; the job stays as it was when it is stopped, fails or is closed. */
  async run<T>(stage: Stage, what: Telling, work: (signal: AbortSignal, onProgress: Report) => Promise<T>): Promise<T | null> {
    if (!this.isOpen || this.closing) return null;
    const controller = new AbortController();
    get().busy?.stop();
    const stop = () => controller.abort();
    const mine = () => this.isOpen && get().busy?.stop === stop;
    const show = (share: number, now: Telling): Busy => ({ stage, what: now, share, stop });
    set({ busy: show(0, what) });
    return this.during(async () => {
      try {
        const result = await work(AbortSignal.any([controller.signal, this.signal]), (share, now) => mine() && set({ busy: show(share, now) }));
        return this.isOpen ? result : null;
      } catch (error) {
        // what it throws where it was stopped is the stop, in whatever words
        if (this.isOpen && !controller.signal.aborted) report(error);
        return null;
      } finally {
        if (mine()) set({ busy: null });
      }
    });
  }

  /** Work of several tasks that belong together: until all of it is done the job is not idle. */
  async during<T>(work: () => Promise<T>): Promise<T> {
    this.tasks++;
    try {
      return await work();
    } finally {
      this.tasks--;
      if (this.tasks === 0) this.idle.splice(0).forEach((go) => go());
    }
  }

  /** Waits until no task of this job runs. */
  whenIdle(): Promise<void> {
    return this.tasks === 0 ? Promise.resolve() : new Promise((go) => this.idle.push(go));
  }

  /** Carries out an edit as one step of the logbook and measures what it did. @returns whether the job was changed */
  edit(change: Edit, text: StepText, options: { measure?: boolean; instead?: Instead } = {}): boolean {
    if (!this.isOpen) return false;
    if (!this.lock) {
      notify(get().damaged ? "job.lookOnly" : "tab.lookOnly");
      return false;
    }
    const { history, records } = options.instead ?? get();
    const taken = takeStep(history, records, change, text, new Date().toISOString(), options.instead?.stepId);
    if (!taken.step) return false;
    const over = overLimit(taken.records);
    if (over && JSON.stringify(over) !== JSON.stringify(overLimit(records))) {
      notify(over);
      return false;
    }
    try {
      for (const [id, record] of Object.entries(taken.records)) if (records[id] !== record) checkRecord(record);
    } catch (error) {
      report(error);
      return false;
    }
    set({ history: taken.history, records: taken.records, findings: isAboutPicture(taken.step) ? null : get().findings });
    this.saves.touch();
    if (options.measure !== false && mergeOf(records) && mergeOf(taken.records)) this.measure(taken.step.id, records, taken.records);
    return true;
  }

  /**
   * A step that grows: each edit of the state before it takes the place of the last one, as long as nothing else was done since.
   * @returns what carries out such an edit, and says false where it cannot any more
   */
  growingStep(): (change: Edit, text: StepText) => boolean {
    const { history, records } = get();
    let stepId: string | undefined;
    return (change, text) => {
      const { steps, head } = get().history;
      const last = steps.at(-1);
      if (!this.isOpen || head !== (stepId ?? history.head) || (stepId && last?.id !== stepId)) return false;
      // notes and effects of the steps may have come meanwhile
      const before = { steps: stepId ? steps.slice(0, -1) : steps, head: history.head };
      const done = this.edit(change, stepId ? { ...text, note: last?.note } : text, { measure: false, instead: { history: before, records, stepId } });
      if (done) stepId = get().history.head!;
      return done;
    };
  }

  /**
   * Applies what was computed from a state of before. Where what it was computed from is still the same, it is put onto the job as it is now; else it is
   * dropped, and that is said. @param inputsOf all of a state that the result depends on
   */
  apply(asked: Records, inputsOf: (records: Records) => unknown, change: Edit, text: StepText, options: { measure?: boolean } = {}): boolean {
    if (!this.isOpen) return false;
    const { records } = get();
    if (records !== asked && sortedText(inputsOf(records)) !== sortedText(inputsOf(asked))) {
      notify(message("job.dropped", { step: asMessage(text.label) }));
      return false;
    }
    return this.edit(change, text, options);
  }

  /** Moves to another step; records that were never looked at are checked before they are taken. */
  goTo(target: string | null): void {
    const { history, records } = get();
    if (!this.mayChange || target === history.head) return;
    try {
      const moved = moveHead(history, records, target);
      for (const [id, record] of Object.entries(moved.records)) if (records[id] !== record) checkRecord(record);
      set({ ...moved, findings: null });
      this.saves.touch();
    } catch {
      notify(message("job.badStepSought", { step: stepById(history, target)?.label ?? "" }));
    }
  }

  setNote(stepId: string, note: string): void {
    this.changeStep(stepId, { note });
  }

  /** What is kept beside the steps changed: the stage, a copy, what Proof found. */
  touch(): void {
    if (this.mayChange) this.saves.touch();
  }

  /** Waits until everything is stored. @returns whether it is; a job that is only looked at has nothing to store */
  flush(): Promise<boolean> {
    return this.lock ? this.saves.flush() : Promise.resolve(true);
  }

  /** Another tab has stored these steps. */
  follow(stored: History): void {
    this.saves.follow(stored.steps);
  }

  /** From now on this tab may change the job. */
  takeOver(lock: HeldLock): void {
    this.lock = lock;
    set({ readOnly: false });
  }

  /**
   * Closes the job: its tasks are stopped, what is not stored yet is stored, then the right to change it goes. @param unsaved close although it cannot be
   * stored @returns false where it could not be stored; it stays open then
   */
  async close(unsaved = false): Promise<boolean> {
    if (!this.isOpen) return true;
    this.closing = true;
    // a task that is stopped may still have something to keep, such as the frames it has read
    get().busy?.stop();
    await Promise.race([this.whenIdle(), later(PATIENCE_MS)]);
    await later(0);
    if (!(await this.flush()) && !unsaved) {
      this.closing = false;
      return false;
    }
    this.end();
    return true;
  }

  /** Ends at once and keeps nothing: the job is no more. */
  end(): void {
    if (!this.isOpen) return;
    this.ending.abort();
    this.saves.end();
    this.effects.end();
    this.lock?.release();
    this.lock = null;
    set(NO_JOB);
  }

  private measure(stepId: string, before: Records, after: Records): void {
    this.effects.add(before, after, (effect) => this.changeStep(stepId, { effect }));
  }

  private changeStep(stepId: string, change: Partial<History["steps"][number]>): void {
    if (!this.mayChange) return;
    const { history } = get();
    set({ history: { ...history, steps: history.steps.map((s) => (s.id === stepId ? { ...s, ...change } : s)) } });
    this.saves.touch();
  }

  private snapshot() {
    const { history, records, lastCopyAt, stage, findings } = get();
    const entry = {
      id: this.id,
      name: jobOf(records)?.name ?? "Job",
      updatedAt: new Date().toISOString(),
      lastCopyAt,
      stage,
      frames: framesOf(records).length,
      setKind: workingSetOf(records)?.setKind ?? "separate",
      reached: reachedStage(records, findings),
      openFindings: findings && openFindingsOf(records, findings).length,
      removedAt: null,
      version: DOCUMENT_VERSION,
      head: history.head,
      sources: sourceIdsOf(history.steps),
      proof: findings && history.head ? { head: history.head, findings } : null,
    };
    return { entry, steps: history.steps };
  }
}

/** Whether a step changes what is inspected: what a person lets through does not. */
const isAboutPicture = ({ diff: { added, removed, updated } }: Step): boolean =>
  [...Object.values(added), ...Object.values(removed), ...Object.values(updated).flat()].some((r) => r.kind !== "acceptance");
