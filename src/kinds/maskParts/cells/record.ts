import { cellPx, cellRuns } from "../../../document/records/fields";
import type { PartRecord } from "../fields";

/** Cells of a grid over the picture, side in reference px. */
export interface Cells {
  kind: "cells";
  cellPx: number;
  runs: number[];
}

export const cells: PartRecord<Cells> = { fields: { cellPx: cellPx(), runs: cellRuns() } };
