import { existsSync } from "node:fs";
import { join } from "node:path";
import { Worker } from "node:worker_threads";
import type { FromThread, PoolThread } from "../engine/pool/Pool";

/** The bundled thread; `npm run kernels` makes it. */
const SCRIPT = "build/poolThread.mjs";

export const hasThreads = (root: string): boolean => existsSync(join(root, SCRIPT));

/** A thread of the pool as a worker thread of Node. It keeps the process alive only while it does a task. */
export function startNodeThread(root: string): PoolThread {
  const worker = new Worker(join(root, SCRIPT), { workerData: { root } });
  // a listener keeps the process alive, so each is followed by this
  worker.unref();
  return {
    post: (message) => {
      if (message.role === "task") worker.ref();
      worker.postMessage(message);
    },
    onMessage: (listen) => {
      worker.on("message", (m: FromThread) => {
        worker.unref();
        listen(m);
      });
      worker.unref();
    },
    onFail: (listen) => {
      worker.on("error", (error) => listen(error.message));
      worker.on("exit", (code) => code !== 0 && listen(`exit ${code}`));
      worker.unref();
    },
    end: () => void worker.terminate(),
  };
}
