import { readFileSync } from "node:fs";
import { join } from "node:path";
import { createContext } from "../engine/EngineContext";
import { createAsk } from "../engine/requests";
import type { RasterStore } from "../engine/tiles/RasterStore";
import { Kernels } from "../kernels/Kernels";
import { createNodeCodecs } from "./nodeCodecs";
import { Pool } from "../engine/pool/Pool";
import { hasThreads, startNodeThread } from "./nodeThreads";
import { NodeRasterStore } from "./NodeRasterStore";

/** The engine in Node: kernels and decoder from public/wasm, rasters in a temporary folder. @param threads that compute at a time */
export async function createNodeEngine(root: string, store: RasterStore = new NodeRasterStore(), threads = 1) {
  const kernels = await Kernels.create(readFileSync(join(root, "public/wasm/kernels.wasm")));
  const sources = new Map<string, () => Promise<Uint8Array>>();
  const pool = threads > 1 && hasThreads(root) ? new Pool(kernels, () => startNodeThread(root), threads) : undefined;
  const ctx = createContext({
    kernels,
    pool,
    store,
    codecs: await createNodeCodecs(root),
    loadSource: async (id) => {
      const load = sources.get(id);
      if (!load) throw new Error("A source picture is missing.");
      return load();
    },
  });
  return { ask: createAsk(ctx), ctx, sources, end: () => pool?.end() };
}

export type NodeEngine = Awaited<ReturnType<typeof createNodeEngine>>;
