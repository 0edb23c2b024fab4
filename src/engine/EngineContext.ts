import type { JpegCodec } from "../formats/jpeg/jpegCodec";
import type { InputColor } from "../formats/icc/readProfile";
import type { Kernels } from "../kernels/Kernels";
import type { RasterFile, RasterStore } from "./tiles/RasterStore";
import type { MaskCache } from "./operations/maskCache";

/** What the engine's host gives it: kernels, a place for rasters, a decoder and a way to the sources' bytes. */
export interface EngineContext {
  kernels: Kernels;
  store: RasterStore;
  jpeg: JpegCodec;
  loadSource(sourceId: string): Promise<Uint8Array>;
  /** colour of the sources met so far, by source id */
  colors: Map<string, InputColor>;
  /** rasters opened so far, by key */
  files: Map<string, RasterFile>;
  masks: MaskCache;
}
