import type { MessageName, Params, Request, Response, Result } from "../protocol/messages";

/** A failure in the worker, with the sentence it was given there. */
export class RemoteError extends Error {
  constructor(
    override readonly name: string,
    message: string,
  ) {
    super(message);
  }
}

export interface CallOptions {
  signal?: AbortSignal;
  onProgress?: (share: number, what: string) => void;
}

interface Waiting {
  resolve(value: unknown): void;
  reject(error: unknown): void;
  onProgress?: CallOptions["onProgress"];
}

/** Typed calls into the engine's worker. A worker that dies is started anew; its open calls reject with a sentence. */
export class EngineClient {
  private worker: Worker | null = null;
  private readonly waiting = new Map<number, Waiting>();
  private next = 1;

  constructor(private readonly start: () => Worker) {}

  call<K extends MessageName>(name: K, params: Params<K>, options: CallOptions = {}): Promise<Result<K>> {
    const id = this.next++;
    return new Promise<Result<K>>((resolve, reject) => {
      if (options.signal?.aborted) {
        reject(new RemoteError("CancelledError", "Stopped."));
        return;
      }
      const stop = () => this.post({ id, cancel: true });
      const done = () => {
        this.waiting.delete(id);
        options.signal?.removeEventListener("abort", stop);
      };
      this.waiting.set(id, {
        resolve: (value) => (done(), resolve(value as Result<K>)),
        reject: (error) => (done(), reject(error)),
        onProgress: options.onProgress,
      });
      options.signal?.addEventListener("abort", stop);
      this.post({ id, name, params } as Request);
    });
  }

  private post(request: Request): void {
    if (!this.worker) {
      const worker = this.start();
      worker.onmessage = (event: MessageEvent<Response>) => this.receive(event.data);
      worker.onerror = (event) => this.fail(event.message || "The computation stopped unexpectedly.");
      this.worker = worker;
    }
    this.worker.postMessage(request);
  }

  private receive(response: Response): void {
    const waiting = this.waiting.get(response.id);
    if (!waiting) return;
    if ("progress" in response) waiting.onProgress?.(response.progress.share, response.progress.what);
    else if ("error" in response) waiting.reject(new RemoteError(response.error.name, response.error.message));
    else waiting.resolve(response.result);
  }

  private fail(message: string): void {
    this.worker?.terminate();
    this.worker = null;
    for (const waiting of [...this.waiting.values()]) {
      waiting.reject(new RemoteError("WorkerError", `The computation had to be restarted (${message}). The job is as it was.`));
    }
  }
}

export function isCancelled(error: unknown): boolean {
  return error instanceof Error && error.name === "CancelledError";
}
