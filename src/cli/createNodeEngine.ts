import { readFileSync } from "node:fs";
import { join } from "node:path";
import { Engine } from "../engine/Engine";
import type { EngineContext } from "../engine/EngineContext";
import { LowerLayers } from "../engine/operations/layers/LowerLayers";
import { MaskCache } from "../engine/operations/masks/maskCache";
import type { RasterStore } from "../engine/tiles/RasterStore";
import { Kernels } from "../kernels/Kernels";
import { createNodeCodecs } from "./nodeCodecs";
import { NodeRasterStore } from "./NodeRasterStore";

/** The engine in Node: kernels and decoder from public/wasm, rasters in a temporary folder. */
export async function createNodeEngine(root: string, store: RasterStore = new NodeRasterStore()) {
  const kernels = await Kernels.create(readFileSync(join(root, "public/wasm/kernels.wasm")));
  const sources = new Map<string, () => Promise<Uint8Array>>();
  const ctx: EngineContext = {
    kernels,
    store,
    codecs: await createNodeCodecs(root),
    colors: new Map(),
    files: new Map(),
    masks: new MaskCache(kernels),
    lower: new LowerLayers(),
    pending: new Map(),
    loadSource: async (id) => {
      const load = sources.get(id);
      if (!load) throw new Error("A source picture is missing.");
      return load();
    },
  };
  return { engine: new Engine(ctx), ctx, sources };
}

export type NodeEngine = Awaited<ReturnType<typeof createNodeEngine>>;
