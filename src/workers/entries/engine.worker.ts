import { message } from "../../messages/message";
import { createContext, type EngineContext } from "../../engine/EngineContext";
import { answer, ENGINE_REQUESTS, type EngineRequests } from "../../engine/requests";
import { sha256 } from "../../engine/graph/keys";
import type { Task } from "../../engine/task";
import { MemoryRasterStore } from "../../engine/tiles/MemoryRasterStore";
import { Pool, type FromThread, type PoolThread } from "../../engine/pool/Pool";
import { Kernels } from "../../kernels/Kernels";
import { StorageError } from "../../storage/database";
import { saveLink, saveSource } from "../../storage/sourceStore";
import { checkLinks, findIn, loadSource } from "../../storage/linkedFiles";
import { FormatError } from "../../formats/formatError";
import { sourcesOfSteps } from "../../document/sourceIds";
import { openJobFile, writeJobFile } from "../../storage/jobFile";
import { OpfsRasterStore } from "../../storage/OpfsRasterStore";
import { threadsOfName } from "../protocol/engineName";
import type { HostRequests, Request } from "../protocol/requests";
import { Dispatcher, type Handlers } from "./Dispatcher";
import { loadCodecs, loadWasm } from "./loadCodecs";

/** The engine, and the store under it where the browser has one. */
interface Started {
  ctx: EngineContext;
  store: OpfsRasterStore | null;
}

async function start(): Promise<Started> {
  const [kernelBytes, codecs] = await Promise.all([loadWasm("kernels"), loadCodecs()]);
  const store = await OpfsRasterStore.create().catch(() => null);
  const kernels = await Kernels.create(kernelBytes);
  const cores = Math.max(1, navigator.hardwareConcurrency || 1);
  const threads = crossOriginIsolated ? Math.min(cores, threadsOfName(self.name) ?? cores) : 1;
  const ctx = createContext({
    kernels,
    pool: threads > 1 ? new Pool(kernels, startThread, threads) : undefined,
    store: store ?? new MemoryRasterStore(),
    codecs,
    loadSource: (id) => loadSource(id, sha256),
  });
  return { ctx, store };
}

/** A thread of the pool as a worker of this worker. */
function startThread(): PoolThread {
  const worker = new Worker(new URL("./pool.worker.ts", import.meta.url), { type: "module" });
  return {
    post: (message) => worker.postMessage(message),
    onMessage: (listen) => worker.addEventListener("message", ({ data }: MessageEvent<FromThread>) => listen(data)),
    onFail: (listen) => worker.addEventListener("error", (event) => listen(event.message || message("engine.unexpected", {}))),
    end: () => worker.terminate(),
  };
}

type HostHandlers = { [K in keyof HostRequests]: (params: HostRequests[K][0], task: Task) => Promise<HostRequests[K][1]> };

const hostHandlers = ({ ctx, store }: Started): HostHandlers => ({
  gatherFile: async ({ jobId, fileName, file, folderId }, task) => {
    const bytes = new Uint8Array(await file.arrayBuffer());
    const frame = await answer(ctx, "importFrame", { fileName, bytes }, task);
    if (folderId && file instanceof File) await saveLink(jobId, frame.sourceId, { folderId, fileName, size: file.size, lastModified: file.lastModified });
    else await saveSource(jobId, frame.sourceId, file.slice(0, file.size, file.type));
    return frame;
  },
  gatherProfile: async ({ jobId, file }, task) => {
    const profile = new Uint8Array(await file.arrayBuffer());
    const told = await answer(ctx, "readTarget", { profile }, task);
    const sourceId = await sha256(profile);
    await saveSource(jobId, sourceId, new Blob([profile as BlobPart]));
    return { ...told, sourceId };
  },
  checkLinks: ({ sourceIds }) => checkLinks(sourceIds, sha256),
  findSources: ({ folder, sourceIds }) => findIn(folder, sourceIds, sha256),
  deliver: async (p, task) => {
    const { parts, ...facts } = await answer(ctx, "exportPicture", p, task);
    return { file: new Blob(parts as BlobPart[]), ...facts };
  },
  saveCutout: async (p, task) => {
    const written = await answer(ctx, "cutoutFile", p, task);
    if (!written) return null;
    const { parts, ...facts } = written;
    return { file: new Blob(parts as BlobPart[]), ...facts };
  },
  workOn: async ({ jobId }) => {
    if (store) store.owner = jobId;
    return null;
  },
  rasterUse: async () => store?.usage ?? null,
  letRastersGo: async ({ jobId }) => {
    ctx.rasters.forgetAll();
    ctx.cache.clear();
    await (jobId === null ? store?.removeAll() : store?.removeOf(jobId));
    return null;
  },
  writeJob: async ({ job }) => {
    const parts: BlobPart[] = [];
    // where sources are gone, or the storage cannot be read at all, the steps are saved all the same
    const bytesOf = (id: string) =>
      ctx.loadSource(id).catch((error: unknown) => {
        if (error instanceof StorageError) return null;
        throw error;
      });
    const missing = await writeJobFile(job, bytesOf, (bytes) => parts.push(bytes as BlobPart));
    return { file: new Blob(parts, { type: "application/zip" }), missing };
  },
  openJob: async ({ file, jobId }, task) => {
    const read = async (at: number, length: number) => new Uint8Array(await file.slice(at, at + length).arrayBuffer());
    const { sources, ...opened } = await openJobFile({ size: file.size, read }, sha256, true);
    const named = sourcesOfSteps(opened.job.history.steps);
    let done = 0;
    for (const [id, entry] of sources) {
      await task.step(done++, sources.size, "task.readingSources");
      const bytes = await entry.read().catch((error: unknown) => {
        if (error instanceof FormatError) return null;
        throw error;
      });
      if (bytes) await saveSource(jobId, id, new Blob([bytes as BlobPart]));
      else opened.missing.push(named.get(id)!.fileName);
    }
    return opened;
  },
});

function handlersOf(started: Started): Handlers {
  const { ctx } = started;
  const names = Object.keys(ENGINE_REQUESTS) as (keyof EngineRequests)[];
  const engine = Object.fromEntries(names.map((name) => [name, (params: never, task: Task) => answer(ctx, name, params, task)]));
  return { ...engine, ...hostHandlers(started) } as unknown as Handlers;
}

/** A message channel is quicker than a timer. */
const channel = new MessageChannel();
const resumed: (() => void)[] = [];
channel.port1.onmessage = () => resumed.shift()?.();

const dispatcher = new Dispatcher({
  start: () => start().then(handlersOf),
  send: (response, transfer) => self.postMessage(response, { transfer }),
  yieldToEvents: () =>
    new Promise((resolve) => {
      resumed.push(resolve);
      channel.port2.postMessage(null);
    }),
});

self.onmessage = ({ data }: MessageEvent<Request>) => void dispatcher.receive(data);
