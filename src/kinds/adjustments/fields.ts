import { blurReach } from "../../core/raster/blur";
import type { MeasuredValues } from "../values";

export interface AdjustmentRecord {
  values: MeasuredValues;
  /** samples around a place that it looks at, at a level; none where nothing is said */
  reach?: (values: Record<string, number>, level: number) => number;
}

/** Reach of what blurs over a radius. */
export const blurred = ({ radiusPx }: Record<string, number>, level: number): number => blurReach(radiusPx / 2 ** level);
