import { Engine } from "../../engine/Engine";
import type { EngineContext } from "../../engine/EngineContext";
import { LowerLayers } from "../../engine/operations/layers/LowerLayers";
import { MaskCache } from "../../engine/operations/masks/maskCache";
import { sha256 } from "../../engine/graph/keys";
import { CancelledError, type Task } from "../../engine/task";
import { MemoryRasterStore } from "../../engine/tiles/MemoryRasterStore";
import { Codecs } from "../../formats/codecs";
import { Kernels } from "../../kernels/Kernels";
import { saveSource } from "../../storage/database";
import { checkLinks, findIn, loadSource, saveLink } from "../../storage/linkedFiles";
import { openJobFile, writeJobFile } from "../../storage/jobFile";
import { OpfsRasterStore } from "../../storage/OpfsRasterStore";
import type { MessageName, Params, Request, Response, Result } from "../protocol/messages";

type Handlers = { [K in MessageName]: (params: Params<K>, task: Task) => Promise<Result<K>> };

const cancelled = new Set<number>();
const send = (response: Response, transfer: Transferable[] = []) => self.postMessage(response, { transfer });

/** Lets waiting messages through; a message channel is quicker than a timer. */
const channel = new MessageChannel();
const resumed: (() => void)[] = [];
channel.port1.onmessage = () => resumed.shift()?.();
const breathe = () =>
  new Promise<void>((resolve) => {
    resumed.push(resolve);
    channel.port2.postMessage(null);
  });

function createTask(id: number): Task {
  let reported = 0;
  return {
    step: async (done, total, what) => {
      const now = performance.now();
      if (now - reported > 80) {
        reported = now;
        send({ id, progress: { share: Math.min(1, done / Math.max(1e-9, total)), what } });
      }
      await breathe();
      if (cancelled.has(id)) throw new CancelledError();
    },
  };
}

async function createContext(): Promise<EngineContext> {
  const wasm = async (name: string) => new Uint8Array(await (await fetch(`/wasm/${name}.wasm`)).arrayBuffer());
  const script = (name: string): Promise<{ default: unknown }> => import(/* turbopackIgnore: true */ `/wasm/${name}.js`);
  const [kernelBytes, codecs] = await Promise.all([wasm("kernels"), Codecs.create({ wasm, script })]);
  const kernels = await Kernels.create(kernelBytes);
  return {
    kernels,
    store: await OpfsRasterStore.create().catch(() => new MemoryRasterStore()),
    codecs,
    loadSource: (id) => loadSource(id, sha256),
    colors: new Map(),
    files: new Map(),
    masks: new MaskCache(kernels),
    lower: new LowerLayers(),
    pending: new Map(),
  };
}

function createHandlers(engine: Engine, ctx: EngineContext): Handlers {
  return {
    importFrame: async ({ fileName, file, folderId }, task) => {
      const bytes = new Uint8Array(await file.arrayBuffer());
      const frame = await engine.importFrame(fileName, bytes, task);
      if (folderId && file instanceof File) await saveLink(frame.sourceId, { folderId, fileName, size: file.size, lastModified: file.lastModified });
      else await saveSource(frame.sourceId, file.slice(0, file.size, file.type));
      return frame;
    },
    checkLinks: ({ sourceIds }) => checkLinks(sourceIds, sha256),
    findSources: ({ folder, sourceIds }) => findIn(folder, sourceIds, sha256),
    measureExposures: ({ frames }) => engine.measureExposures(frames),
    readFrame: (p) => engine.readFrame(p.frame),
    readCard: (p) => engine.readCard(p.frame, p.x, p.y, p.radius),
    gatherSets: (p, task) => engine.gatherSets(p.records, p.frames, task),
    compareFrames: (p, task) => engine.compareFrames(p.records, p.frames, task),
    register: (p, task) => engine.register(p.records, p.frames, p.request, task),
    preparePanorama: (p, task) => engine.preparePanorama(p.frames, p.request, task),
    compareProjections: async (p) => engine.compareProjections(p.records, p.attitude),
    panoramaCrop: async (p) => engine.panoramaCrop(p.records, p.ratio),
    snapPanoramaPoint: (p) => engine.snapPanoramaPoint(p.records, p.aId, p.bId, p.x, p.y, p.guess),
    judgePlacement: (p) => engine.judgePlacement(p.records, p.frameId, p.placing),
    describePlacement: (p) => engine.describePlacement(p.records, p.frameId, p.placing, "hand"),
    placeByPoints: (p) => engine.placeByPoints(p.records, p.frameId, p.points, p.lens),
    refinePlacement: (p) => engine.refinePlacement(p.records, p.frameId, p.placing),
    snapPoint: (p) => engine.snapPoint(p.records, p.frameId, p.placing, p.point, p.guess),
    commonArea: async (p) => engine.commonArea(p.records, p.ratio),
    merge: (p, task) => engine.merge(p.records, p.method, task),
    shares: (p, task) => engine.shares(p.records, task),
    radianceRange: (p, task) => engine.radianceRange(p.records, task),
    findGhosts: (p, task) => engine.findGhosts(p.records, p.threshold, task),
    renderView: (p, task) => engine.renderView(p.records, p.view, p.level, p.rect, p.space, task),
    readOut: (p, task) => engine.readOut(p.records, p.x, p.y, p.radius, task),
    proposeFrame: (p, task) => engine.proposeFrame(p.records, p.region, task),
    proposeFinish: (p, task) => engine.proposeFinish(p.records, task),
    proof: (p, task) => engine.proof(p.records, task),
    proposeWeave: (p, task) => engine.proposeWeave(p.records, p.regions, task),
    splitWeaveRegion: (p, task) => engine.splitWeaveRegion(p.records, p.weave, p.regionId, task),
    measureArea: (p, task) => engine.measureArea(p.records, p.runs, task),
    weaveBorders: (p, task) => engine.weaveBorders(p.records, p.weave, task),
    retouchPlace: (p, task) => engine.retouchPlace(p.records, p.layerId, task),
    findDust: (p, task) => engine.findDust(p.records, task),
    auditRemnants: (p, task) => engine.auditRemnants(p.records, p.layerId, task),
    findTwinsOf: (p, task) => engine.findTwinsOf(p.records, p.layerId, task),
    findTwins: (p, task) => engine.findTwins(p.records, task),
    judgeFound: (p, task) => engine.judgeFound(p.records, p.part, task),
    measureTones: (p, task) => engine.measureTones(p.records, task),
    measureEffect: (p, task) => engine.measureEffect(p.before, p.after, task),
    export: async (p, task) => {
      const { parts, width, height, clippedShare, negatives } = await engine.export(p.records, p.settings, task, p.method);
      return { file: new Blob(parts as BlobPart[]), width, height, clippedShare, negatives };
    },
    clearRasters: async () => {
      ctx.files.clear();
      await ctx.store.keepOnly(new Set());
      return null;
    },
    writeJob: async ({ job }) => {
      const parts: BlobPart[] = [];
      await writeJobFile(job, ctx.loadSource, (bytes) => parts.push(bytes as BlobPart));
      return new Blob(parts, { type: "application/zip" });
    },
    openJob: async ({ file }, task) => {
      const opened = await openJobFile({
        size: file.size,
        read: async (at, length) => new Uint8Array(await file.slice(at, at + length).arrayBuffer()),
      });
      let done = 0;
      for (const [id, entry] of opened.sources) {
        await task.step(done++, opened.sources.size, "Reading the sources");
        const bytes = await entry.read();
        if ((await sha256(bytes)) !== id) throw new Error("A source picture in the job file is not the one the job was made from.");
        await saveSource(id, new Blob([bytes as BlobPart]));
      }
      return { job: opened.job, records: opened.records };
    },
  };
}

let handlers: Promise<Handlers> | null = null;

self.onmessage = async ({ data }: MessageEvent<Request>) => {
  if ("cancel" in data) {
    cancelled.add(data.id);
    return;
  }
  const { id, name, params } = data;
  try {
    handlers ??= createContext().then((ctx) => createHandlers(new Engine(ctx), ctx));
    const handler = (await handlers)[name] as ((p: unknown, task: Task) => Promise<unknown>) | undefined;
    if (!handler) throw new TypeError(`The engine does not know the message "${String(name)}".`);
    const result = await handler(params, createTask(id));
    const transfer = name === "renderView" ? [(result as Result<"renderView">).rgba.buffer] : [];
    send({ id, result }, transfer);
  } catch (error) {
    const { name: kind, message } = error as Error;
    send({ id, error: { name: kind ?? "Error", message: message || String(error) } });
  } finally {
    cancelled.delete(id);
  }
};
