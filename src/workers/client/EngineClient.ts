import { message, type Message, type Telling } from "../../messages/message";
import { DocumentSender } from "../../document/replica";
import type { Records } from "../../document/records/types";
import type { RequestName, Params, Request, Response, Result, RevisionName } from "../protocol/requests";

/** A failure in the worker, with what it tells a person where it was made for that. */
export class RemoteError extends Error {
  constructor(
    override readonly name: string,
    message: string,
    readonly code?: string,
    readonly told?: Message,
  ) {
    super(message);
  }
}

export interface CallOptions {
  signal?: AbortSignal;
  onProgress?: (share: number, what: Telling) => void;
}

/** What asks the engine; the session takes any. */
export interface EngineCaller {
  call<K extends RequestName>(name: K, params: Params<K>, options?: CallOptions): Promise<Result<K>>;
}

interface Waiting {
  resolve(value: unknown): void;
  reject(error: unknown): void;
  onProgress?: CallOptions["onProgress"];
}

/** How long a call that was stopped may go on before the worker is ended, ms. */
const LET_STOP_MS = 15_000;

/** Parameters that are states of the document. */
const DOCUMENTS = ["records", "before", "after"] as const;

/**
 * Typed calls into the engine's worker, which keeps a copy of the document: calls name a state of it, and only what changed is sent. A worker that
 * dies is started anew; its open calls reject with a sentence.
 */
export class EngineClient implements EngineCaller {
  private worker: Worker | null = null;
  private readonly waiting = new Map<number, Waiting>();
  private readonly documents = new DocumentSender();
  private next = 1;

  constructor(private readonly start: () => Worker) {}

  call<K extends RequestName>(name: K, params: Params<K>, options: CallOptions = {}): Promise<Result<K>> {
    const id = this.next++;
    return new Promise<Result<K>>((resolve, reject) => {
      if (options.signal?.aborted) {
        reject(new RemoteError("CancelledError", "Stopped."));
        return;
      }
      let patience: ReturnType<typeof setTimeout> | undefined;
      const stop = () => {
        const { worker } = this;
        worker?.postMessage({ id, cancel: true } satisfies Request);
        // a decoder that hangs lets no message through; only for a long task is that worth beginning anew
        if (options.onProgress)
          patience = setTimeout(() => worker !== null && worker === this.worker && this.fail(message("engine.didNotStop", {})), LET_STOP_MS);
      };
      const done = () => {
        clearTimeout(patience);
        this.waiting.delete(id);
        options.signal?.removeEventListener("abort", stop);
      };
      this.waiting.set(id, {
        resolve: (value) => (done(), resolve(value as Result<K>)),
        reject: (error) => (done(), reject(error)),
        onProgress: options.onProgress,
      });
      options.signal?.addEventListener("abort", stop);
      const worker = this.running();
      worker.postMessage({ id, name, params: this.named(worker, params as Record<string, unknown>) } satisfies Request);
    });
  }

  /** The parameters with states of the document as their revisions. What of them is new goes first. */
  private named(worker: Worker, params: Record<string, unknown>): Record<string, unknown> {
    const out = { ...params };
    for (const key of DOCUMENTS) {
      if (!out[key]) continue;
      const { revision, change } = this.documents.name(out[key] as Records);
      if (change) worker.postMessage({ document: change } satisfies Request);
      out[key] = { revision } satisfies RevisionName;
    }
    return out;
  }

  private running(): Worker {
    if (!this.worker) {
      const worker = this.start();
      this.documents.reset();
      worker.onmessage = (event: MessageEvent<Response>) => this.receive(event.data);
      worker.onerror = (event) => this.fail(event.message || message("engine.unexpected", {}));
      this.worker = worker;
    }
    return this.worker;
  }

  private receive(response: Response): void {
    const waiting = this.waiting.get(response.id);
    if (!waiting) return;
    if ("progress" in response) waiting.onProgress?.(response.progress.share, response.progress.what);
    else if ("error" in response) waiting.reject(new RemoteError(response.error.name, response.error.message, response.error.code, response.error.told));
    else waiting.resolve(response.result);
  }

  /** Ends the worker; the next call starts it anew. Nothing must be under way that somebody waits for. */
  restart(): void {
    if (this.worker) this.fail(message("engine.settings", {}));
  }

  private fail(why: string | Message): void {
    this.worker?.terminate();
    this.worker = null;
    const told = message("engine.restarted", { why });
    for (const waiting of [...this.waiting.values()]) waiting.reject(new RemoteError("WorkerError", told.code, undefined, told));
  }
}

export function isCancelled(error: unknown): boolean {
  return error instanceof Error && error.name === "CancelledError";
}
