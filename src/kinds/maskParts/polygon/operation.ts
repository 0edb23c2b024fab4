import { polygonMask } from "../../../core/masks/shapes";
import { drawn, type PartOperation } from "../tools";
import type { Polygon } from "./record";

export const polygon: PartOperation<Polygon> = drawn(({ points }, level, rect, out) => polygonMask(points, level, rect, out));
