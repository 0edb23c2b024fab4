import type { Codecs } from "../formats/codecs";
import type { InputColor } from "../formats/icc/readProfile";
import type { Kernels } from "../kernels/Kernels";
import type { Filters } from "../core/raster/filters";
import { DerivedCache } from "./graph/DerivedCache";
import { StableLayers } from "./graph/StableLayers";
import { kernelFilters } from "./kernelFilters";
import { OwnThread, type TaskRunner } from "./pool/Pool";
import { Rasters } from "./tiles/Rasters";
import type { RasterStore } from "./tiles/RasterStore";

/** What the engine's host gives it: kernels, a place for rasters, a decoder and a way to the sources' bytes. */
export interface Host {
  kernels: Kernels;
  store: RasterStore;
  codecs: Codecs;
  loadSource(sourceId: string): Promise<Uint8Array>;
  /** where whole tasks are done; on the engine's own thread where none is given */
  pool?: TaskRunner;
}

/** The host, and what the engine keeps in memory. */
export interface EngineContext extends Host {
  /** blurs and means of whole planes, in kernels */
  filters: Filters;
  pool: TaskRunner;
  /** everything derived that is kept, by complete keys and within one budget */
  cache: DerivedCache;
  /** colour of the sources met so far, by source id */
  colors: Map<string, InputColor>;
  rasters: Rasters;
  /** which layers of the view stay as they are; only a hint of what is worth keeping */
  stable: StableLayers;
}

export function createContext(host: Host): EngineContext {
  const pool = host.pool ?? new OwnThread({ codecs: async () => host.codecs });
  return {
    ...host,
    pool,
    filters: kernelFilters(host.kernels),
    cache: new DerivedCache(),
    colors: new Map(),
    rasters: new Rasters(host.store),
    stable: new StableLayers(),
  };
}
