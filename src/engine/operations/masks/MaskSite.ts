import type { Rectangle } from "../../../core/geometry/rectangle";
import type { LayerRecord } from "../../../document/records/layerTypes";
import type { MaskPart } from "../../../kinds/maskParts/records";
import type { EngineContext } from "../../EngineContext";
import type { PreparedJob } from "../layers/PreparedJob";

/** The mask of a layer at a display level, and what its parts may read. */
export interface MaskSite {
  readonly ctx: EngineContext;
  readonly job: PreparedJob;
  readonly layer: LayerRecord;
  readonly level: number;
  /** light of the merge or of a placed frame; nothing where that frame is no longer placed. @param levelled at the reference's exposure @param level another than the mask's */
  light(of: string | null, rect: Rectangle, levelled?: boolean, level?: number): Float32Array[];
  oklab(of: string | null, rect: Rectangle): Float32Array[];
  /** log2 luminance */
  logLight(of: string | null, rect: Rectangle, levelled?: boolean): Float32Array;
  /** computes on a rectangle made larger, as far as the picture goes, and cuts the rectangle out */
  widened(rect: Rectangle, by: number, compute: (wide: Rectangle) => Float32Array): Float32Array;
  /** parts combined among themselves */
  parts(parts: MaskPart[], rect: Rectangle): Float32Array;
  /** the mask of another layer; nothing where that leads back to this one */
  mask(layer: LayerRecord, rect: Rectangle): Float32Array;
}
