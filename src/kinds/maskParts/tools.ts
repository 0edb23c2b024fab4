import type { Rectangle } from "../../core/geometry/rectangle";
import type { MaskSite } from "../../engine/operations/masks/MaskSite";
import type { PartBase } from "./fields";

/** One of both: what a part is by itself, or what it does to those before it. */
export interface PartOperation<P> {
  /** how much of it there is in a rectangle, 0..1 */
  shape?(on: MaskSite, part: P & PartBase, rect: Rectangle): Float32Array;
  /** changes, in place, what the parts before it made. @param before gives that in a larger rectangle */
  over?(on: MaskSite, part: P & PartBase, rect: Rectangle, values: Float32Array, before: (wide: Rectangle) => Float32Array): void;
  /** px around a place that it looks at, in place of its feather */
  reach?(part: P): number;
}

/** A shape that is drawn into a plane. */
export const drawn = <P>(draw: (part: P, level: number, rect: Rectangle, out: Float32Array) => void): PartOperation<P> => ({
  shape: ({ level }, part, rect) => {
    const out = new Float32Array(rect.width * rect.height);
    draw(part, level, rect, out);
    return out;
  },
});
