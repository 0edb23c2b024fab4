import type { Message } from "../../messages/message";
import { DocumentReplica } from "../../document/replica";
import type { Records } from "../../document/records/types";
import { CancelledError, type Task } from "../../engine/task";
import type { RequestName, Params, Request, Response, Result, RevisionName } from "../protocol/requests";

export type Handlers = { [K in RequestName]: (params: Params<K>, task: Task) => Promise<Result<K>> | Result<K> };

interface Host {
  /** Makes what answers; asked again after it failed, so that one lost download does not last until the next reload. */
  start(): Promise<Handlers>;
  send(response: Response, transfer: Transferable[]): void;
  /** Lets waiting requests through. */
  yieldToEvents(): Promise<void>;
}

/** Milliseconds between two reports of progress. */
const REPORTS_MS = 80;

/** Answers what the screen asks, one after the other as they let each other through, on a copy of the document that the screen keeps up to date. */
export class Dispatcher {
  private readonly replica = new DocumentReplica();
  private readonly cancelled = new Set<number>();
  private readonly running = new Set<number>();
  private handlers: Promise<Handlers> | null = null;

  constructor(private readonly host: Host) {}

  async receive(request: Request): Promise<void> {
    if ("document" in request) {
      this.replica.apply(request.document);
      return;
    }
    if ("cancel" in request) {
      if (this.running.has(request.id)) this.cancelled.add(request.id);
      return;
    }
    const { id, name } = request;
    this.running.add(id);
    try {
      // states are looked up before anything is waited for: the screen may let go of them meanwhile
      const params = this.resolved(request.params);
      const handler = (await this.handlersAtHand())[name] as ((p: unknown, task: Task) => unknown) | undefined;
      if (!handler) throw new TypeError(`The engine does not know the request "${String(name)}".`);
      const result = await handler(params, this.taskOf(id));
      this.host.send({ id, result }, transferable(result));
    } catch (error) {
      const { name: kind, message, code, reason, told } = error as Error & { code?: string; reason?: string; told?: Message };
      this.host.send({ id, error: { name: kind ?? "Error", message: message || String(error), code: code ?? reason, told } }, []);
    } finally {
      this.running.delete(id);
      this.cancelled.delete(id);
    }
  }

  private handlersAtHand(): Promise<Handlers> {
    this.handlers ??= this.host.start().catch((error: unknown) => {
      this.handlers = null;
      throw error;
    });
    return this.handlers;
  }

  private resolved(params: Record<string, unknown>): Record<string, unknown> {
    const entries = Object.entries(params).map(([key, value]): [string, Records | unknown] => [
      key,
      isRevision(value) ? this.replica.at(value.revision) : value,
    ]);
    return Object.fromEntries(entries);
  }

  private taskOf(id: number): Task {
    let reported = 0;
    return {
      step: async (done, total, what) => {
        const now = performance.now();
        if (now - reported > REPORTS_MS) {
          reported = now;
          this.host.send({ id, progress: { share: Math.min(1, done / Math.max(1e-9, total)), what } }, []);
        }
        await this.host.yieldToEvents();
        if (this.cancelled.has(id)) throw new CancelledError();
      },
    };
  }
}

const isRevision = (value: unknown): value is RevisionName =>
  typeof value === "object" && value !== null && typeof (value as RevisionName).revision === "number" && Object.keys(value).length === 1;

/** Drawn pixels go over without being copied. */
function transferable(result: unknown): Transferable[] {
  const drawn = result as { rgba?: Uint8ClampedArray; pieces?: { rgba: Uint8ClampedArray }[] } | null;
  return [...(drawn?.pieces ?? []), drawn].flatMap((d) => (d?.rgba instanceof Uint8ClampedArray ? [d.rgba.buffer as ArrayBuffer] : []));
}
