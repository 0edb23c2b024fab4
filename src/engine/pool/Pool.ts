import { message, type Message } from "../../messages/message";
import type { Kernels } from "../../kernels/Kernels";
import { createControl, StripPool } from "../../kernels/pool/StripPool";
import { CancelledError } from "../task";
import type { Deadline } from "./deadline";
import { TASKS, type TaskName, type TaskParams, type TaskResult, type TaskTools } from "./tasks";

/** What a thread is told. */
export type ToThread =
  | { role: "strips"; memory: WebAssembly.Memory; module: WebAssembly.Module; control: SharedArrayBuffer; scratch: number }
  | { role: "task"; id: number; name: TaskName; params: unknown };
export type FromThread = { id: number; result: unknown } | { id: number; error: { name: string; message: string; reason?: string; told?: Message } };

/** A thread as its host gives it. */
export interface PoolThread {
  post(message: ToThread): void;
  onMessage(listen: (message: FromThread) => void): void;
  /** @param listen is told why, in the platform's words where it has any */
  onFail(listen: (why: string | Message) => void): void;
  end(): void;
}

/** Reports that something is still under way. */
export type Pause = () => Promise<void>;

/** Does whole tasks, on whichever thread is free. */
export interface TaskRunner {
  /** tasks that run at a time */
  readonly size: number;
  /**
   * @param pause is awaited now and then and throws where it is not to go on; what runs elsewhere then is ended
   */
  run<K extends TaskName>(name: K, params: TaskParams<K>, pause?: Pause, deadline?: Deadline): Promise<TaskResult<K>>;
}

/** An error of another thread, with its kind. */
class TaskError extends Error {
  constructor(
    override readonly name: string,
    readonly reason: string | undefined,
    message: string,
    readonly told?: Message,
  ) {
    super(message);
  }
}

function stopped(why: string | Message): TaskError {
  const told = message("engine.partStopped", { why });
  return new TaskError("WorkerError", undefined, told.code, told);
}

interface Job {
  name: TaskName;
  params: unknown;
  resolve(value: unknown): void;
  reject(error: unknown): void;
  tries: number;
  deadline?: Deadline;
  timer?: ReturnType<typeof setInterval>;
}

/** How often a task is begun again whose thread died, before it is given up: it may be the task that kills it. */
const TRIES = 2;
/** How often a stop is looked for while a task runs elsewhere, ms. */
const LOOK_MS = 80;
/** How long a task that was stopped may take to end by itself, ms: a thread that is begun anew costs more than what most have left to do. */
const LET_END_MS = 1500;
/** How exactly deadlines are counted, ms. */
const TICK_MS = 1000;

/** Everything on the one thread there is: nothing can end what runs on it. */
export class OwnThread implements TaskRunner {
  readonly size = 1;

  constructor(private readonly tools: TaskTools) {}

  async run<K extends TaskName>(name: K, params: TaskParams<K>): Promise<TaskResult<K>> {
    return (TASKS[name] as (tools: TaskTools, params: TaskParams<K>) => Promise<TaskResult<K>>)(this.tools, params);
  }
}

/**
 * Threads over the kernels' memory. Some wait for strips of kernels, beside the engine's own thread; others take whole tasks while the engine waits. A thread
 * that dies is started again, and what it was doing is done again.
 */
export class Pool implements TaskRunner {
  readonly size: number;
  private readonly queue: Job[] = [];
  private readonly idle: PoolThread[] = [];
  private readonly busy = new Map<PoolThread, { id: number; job: Job }>();
  private readonly dropped = new WeakSet<PoolThread>();
  private readonly stripThreads: PoolThread[] = [];
  private started = 0;
  private next = 1;
  private ended = false;

  /** @param threads that compute at a time, the engine's own among them */
  constructor(
    private readonly kernels: Kernels,
    private readonly start: () => PoolThread,
    threads: number,
  ) {
    this.size = threads;
    this.beginStrips();
  }

  run<K extends TaskName>(name: K, params: TaskParams<K>, pause?: Pause, deadline?: Deadline): Promise<TaskResult<K>> {
    const job: Job = { name, params, resolve: () => undefined, reject: () => undefined, tries: 0, deadline };
    const result = new Promise<TaskResult<K>>((resolve, reject) => Object.assign(job, { resolve, reject }));
    this.queue.push(job);
    this.deal();
    return pause ? watched(result, pause, () => setTimeout(() => this.stop(job), LET_END_MS)) : result;
  }

  /** Counts the time that passes while this machine works: one that sleeps takes nothing from a task. */
  private count(job: Job, { ms, error }: Deadline): ReturnType<typeof setInterval> {
    const tick = Math.min(TICK_MS, ms);
    let left = ms;
    return setInterval(() => {
      left -= tick;
      if (left <= 0) this.stop(job, error);
    }, tick);
  }

  /** Ends a task, and the thread it runs on. */
  private stop(job: Job, error: Error = new CancelledError()): void {
    const waiting = this.queue.indexOf(job);
    if (waiting >= 0) this.queue.splice(waiting, 1);
    const thread = [...this.busy].find(([, now]) => now.job === job)?.[0];
    if (waiting < 0 && !thread) return;
    if (thread) this.drop(thread);
    job.reject(error);
    this.deal();
  }

  /** A thread that is no more. */
  private drop(thread: PoolThread): void {
    clearInterval(this.busy.get(thread)?.job.timer);
    this.busy.delete(thread);
    this.dropped.add(thread);
    this.started--;
    thread.end();
  }

  /** Threads for strips anew, after one did not answer. */
  restartStrips(): void {
    for (const thread of this.stripThreads.splice(0)) thread.end();
    this.beginStrips();
  }

  end(): void {
    this.ended = true;
    for (const thread of [...this.stripThreads, ...this.idle, ...this.busy.keys()]) thread.end();
  }

  private beginStrips(): void {
    const { kernels } = this;
    const control = createControl();
    for (let i = 1; i < this.size; i++) {
      const thread = this.start();
      const scratch = kernels.arena.allocate(kernels.scratchBytes);
      thread.onFail(() => (strips.broken = true));
      thread.post({ role: "strips", memory: kernels.memory, module: kernels.module, control, scratch });
      this.stripThreads.push(thread);
    }
    const strips = new StripPool(kernels.exports, kernels.scratch, control, this.size);
    kernels.executor = strips;
  }

  private deal(): void {
    while (this.queue.length > 0 && !this.ended) {
      const thread = this.idle.pop() ?? (this.started < this.size ? this.startThread() : null);
      if (!thread) return;
      const job = this.queue.shift()!;
      const id = this.next++;
      this.busy.set(thread, { id, job });
      const { deadline } = job;
      if (deadline) job.timer = this.count(job, deadline);
      thread.post({ role: "task", id, name: job.name, params: job.params });
    }
  }

  private startThread(): PoolThread {
    this.started++;
    const thread = this.start();
    thread.onMessage((answer) => {
      const now = this.busy.get(thread);
      if (!now || now.id !== answer.id) return;
      clearInterval(now.job.timer);
      this.busy.delete(thread);
      this.idle.push(thread);
      if ("error" in answer) now.job.reject(new TaskError(answer.error.name, answer.error.reason, answer.error.message, answer.error.told));
      else now.job.resolve(answer.result);
      this.deal();
    });
    thread.onFail((why) => {
      if (this.ended || this.dropped.has(thread)) return;
      const now = this.busy.get(thread);
      this.drop(thread);
      if (now && ++now.job.tries < TRIES) this.queue.unshift(now.job);
      else now?.job.reject(stopped(why));
      this.deal();
    });
    return thread;
  }
}

/** A result that is waited for, while a stop is looked for. @param onStopped ends what nobody waits for any more */
async function watched<T>(result: Promise<T>, pause: Pause, onStopped: () => void): Promise<T> {
  let done = false;
  const ended = result.finally(() => (done = true));
  const stop = (async () => {
    while (!done) {
      await new Promise((go) => setTimeout(go, LOOK_MS));
      if (!done) await pause();
    }
    return ended;
  })();
  try {
    return await Promise.race([ended, stop]);
  } catch (error) {
    if (error instanceof CancelledError) {
      ended.catch(() => undefined);
      onStopped();
    }
    stop.catch(() => undefined);
    throw error;
  }
}
