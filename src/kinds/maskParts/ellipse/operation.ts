import { ellipseMask } from "../../../core/masks/shapes";
import { drawn, type PartOperation } from "../tools";
import type { Ellipse } from "./record";

export const ellipse: PartOperation<Ellipse> = drawn(ellipseMask);
