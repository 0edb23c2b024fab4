import { rampMask } from "../../../core/masks/shapes";
import { drawn, type PartOperation } from "../tools";
import type { Ramp } from "./record";

export const ramp: PartOperation<Ramp> = drawn(({ x0, y0, x1, y1 }, level, rect, out) => rampMask([x0, y0], [x1, y1], level, rect, out));
