import type { Message } from "../../messages/message";
import { instantiate } from "../../kernels/Kernels";
import { serveStrips } from "../../kernels/pool/StripPool";
import type { FromThread, ToThread } from "./Pool";
import { TASKS, type TaskTools } from "./tasks";

/** What a thread of the pool does with what it is told. One that serves strips hears nothing else any more. */
export async function serveThread(message: ToThread, tools: TaskTools, send: (answer: FromThread, transfer: ArrayBuffer[]) => void): Promise<void> {
  if (message.role === "strips") {
    serveStrips(await instantiate(message.module, message.memory), message.scratch, message.control);
    return;
  }
  const { id, name, params } = message;
  try {
    const result = await (TASKS[name] as (tools: TaskTools, params: unknown) => unknown)(tools, params);
    send({ id, result }, buffersOf(result));
  } catch (error) {
    const { name: kind, message: text, reason, code, told } = error as Error & { reason?: string; code?: string; told?: Message };
    send({ id, error: { name: kind, message: text, reason: reason ?? code, told } }, []);
  }
}

/** Memory that goes over without being copied; what is shared stays where it is. */
function buffersOf(value: unknown, depth = 4): ArrayBuffer[] {
  if (ArrayBuffer.isView(value)) return value.buffer instanceof ArrayBuffer && value.byteLength === value.buffer.byteLength ? [value.buffer] : [];
  if (typeof value !== "object" || value === null || depth === 0) return [];
  return [...new Set(Object.values(value).flatMap((v) => buffersOf(v, depth - 1)))];
}
