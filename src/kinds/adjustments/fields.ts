import { blurReach } from "../../core/raster/blur";
import type { MeasuredValues } from "../values";

export interface AdjustmentRecord {
  values: MeasuredValues;
  /** values that say how much is done, so that less or more of it can be shown; the others say where and how */
  amounts?: string[];
  /** samples around a place that it looks at, at a level; none where nothing is said */
  reach?: (values: Record<string, number>, level: number) => number;
  /** whether it depends on all that lies below it, wherever that is */
  readsAll?: (values: Record<string, number>) => boolean;
  /** whether it works on scene light only, and leaves a picture made for a screen as it is */
  needsSceneLight?: boolean;
}

/** Reach of what blurs over a radius. */
export const blurred = ({ radiusPx }: Record<string, number>, level: number): number => blurReach(radiusPx / 2 ** level);
