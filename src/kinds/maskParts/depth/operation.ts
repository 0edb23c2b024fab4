import { CELL } from "../../../core/focus/sharpness";
import { band } from "../../../core/masks/shapes";
import { gridAround, sampleGrid } from "../../../core/raster/planeParts";
import type { PartOperation } from "../tools";
import type { Depth } from "./record";

/** Which frame of a focus merge is sharpest, between its cells linear; nothing where the merge has no depth. */
export const depth: PartOperation<Depth> = {
  shape: ({ job, level }, { from, to, soft }, rect) => {
    const { depth: raster } = job.merge;
    if (!raster) return new Float32Array(rect.width * rect.height);
    const { width, height } = raster.spec;
    const step = 2 ** level / CELL;
    const held = gridAround(raster.spec, step, rect);
    const index = new Float32Array(held.width * held.height);
    raster.read(0, 0, held.x, held.y, held.width, held.height, index);
    return sampleGrid(index, width, height, step, rect, held).map((v) => band(v + 1, from, to, soft));
  },
};
