import type { LayerRecord } from "../../document/records/layerTypes";
import type { Backdrop, StackSite, Top } from "../../engine/operations/layers/StackSite";
import type { Scope } from "../../kernels/Kernels";

/** What a layer shows in the rectangle of a stack; null where there is nothing to show. @param backdrop what lies below it */
export type ContentOperation<C> = (on: StackSite, content: C, layer: LayerRecord, backdrop: Backdrop, scope: Scope) => Top | null;
