import type { EngineContext } from "./EngineContext";
import type { Task } from "./task";

/** What the engine does when it is asked for something. Each stands where its operation lives; `messages.ts` of this folder puts them together. */
export type Message<P, R> = (ctx: EngineContext, params: P, task: Task) => Promise<R> | R;
// eslint-disable-next-line @typescript-eslint/no-explicit-any -- any message is one
export type MessageTable = Record<string, Message<any, unknown>>;
