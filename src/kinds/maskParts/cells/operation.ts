import { fillCells } from "../../../core/masks/cellRuns";
import { sampleGrid } from "../../../core/raster/planeParts";
import type { PartOperation } from "../tools";
import type { Cells } from "./record";

/** Cells as they are, between their middles linear. */
export const cells: PartOperation<Cells> = {
  shape: ({ job, level }, { cellPx, runs }, rect) => {
    const { width, height } = job.inputs;
    const grid = { x: 0, y: 0, width: Math.ceil(width / cellPx), height: Math.ceil(height / cellPx) };
    return sampleGrid(fillCells(runs, grid), grid.width, grid.height, 2 ** level / cellPx, rect);
  },
};
