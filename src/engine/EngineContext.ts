import type { Codecs } from "../formats/codecs";
import type { InputColor } from "../formats/icc/readProfile";
import type { Kernels } from "../kernels/Kernels";
import { CancelledError } from "./task";
import type { RasterFile, RasterStore } from "./tiles/RasterStore";
import type { LowerLayers } from "./operations/layers/LowerLayers";
import type { MaskCache } from "./operations/masks/maskCache";

/** What the engine's host gives it: kernels, a place for rasters, a decoder and a way to the sources' bytes. */
export interface EngineContext {
  kernels: Kernels;
  store: RasterStore;
  codecs: Codecs;
  loadSource(sourceId: string): Promise<Uint8Array>;
  /** colour of the sources met so far, by source id */
  colors: Map<string, InputColor>;
  /** rasters opened so far, by key */
  files: Map<string, RasterFile>;
  masks: MaskCache;
  lower: LowerLayers;
  /** rasters being made, by key, so that two requests never make the same one */
  pending: Map<string, Promise<unknown>>;
}

/** Runs `make` unless the same key is being made; then waits for that. A maker stopped by its own person is made again. */
export async function makeOnce<T>(ctx: EngineContext, key: string, make: () => Promise<T>): Promise<T> {
  for (let running = ctx.pending.get(key); running; running = ctx.pending.get(key)) {
    try {
      return (await running) as T;
    } catch (error) {
      if (!(error instanceof CancelledError)) throw error;
    }
  }
  const making = make().finally(() => ctx.pending.delete(key));
  ctx.pending.set(key, making);
  return making;
}
