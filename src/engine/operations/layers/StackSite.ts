import type { TileRegion } from "../../../core/adjust/spatial";
import type { LayerRecord } from "../../../document/records/layerTypes";
import type { Rectangle } from "../../../core/geometry/rectangle";
import type { Scope } from "../../../kernels/Kernels";
import type { EngineContext } from "../../EngineContext";
import type { Planes } from "../frames/frameSamples";
import type { PreparedJob } from "./PreparedJob";

/** Planes and where they are something: an alpha plane, or 0 where they are everywhere. */
export interface Backdrop {
  planes: Planes;
  alpha: number;
  /** whether the layer laid on it may change the planes themselves: it shows everywhere, wholly and normally */
  direct?: boolean;
}

/** What a layer shows, and how much of it there is: an alpha plane. */
export interface Top {
  planes: Planes;
  alpha: number;
  /** changes what is there and adds nothing where there is nothing */
  changes: boolean;
}

/** The stack of layers in a rectangle, and what its layers may ask of it. */
export interface StackSite {
  readonly ctx: EngineContext;
  readonly job: PreparedJob;
  readonly where: TileRegion;
  /** samples of the rectangle */
  readonly n: number;
  /** an alpha plane that is 1; none where the planes of a backdrop are changed themselves, and nothing is laid over them */
  everywhere(scope: Scope, backdrop?: Backdrop): number;
  /** a plane that is 0 */
  nowhere(scope: Scope): number;
  /** the planes of a backdrop to be changed: themselves where that may be, else a copy */
  own(backdrop: Backdrop, scope: Scope): Planes;
  /** lays what a group holds over a backdrop */
  lay(groupId: string, backdrop: Backdrop): void;
  /** reads what lies below a layer in its group, in any rectangle of the level */
  below(layer: LayerRecord): (rect: Rectangle, scope: Scope) => Planes;
}
