import type { Aim, CellMeasures } from "../../core/weave/judgeRegions";

/** A region of the scene in the weave. */
export interface WeaveRegion {
  id: string;
  name: string;
  aim: Aim;
  runs: number[];
  /** what every frame is worth here, in the order of the weave's frames */
  cells: CellMeasures[];
  /** the frame it is taken from; null: from the merge */
  choice: string | null;
  /** chosen by the person; else as proposed */
  byHand: boolean;
}

/** Regions × frames of a set: which frame is taken where. */
export interface WeaveRecord {
  kind: "weave";
  id: string;
  setId: string;
  /** side of a cell, px, and how many there are */
  cellPx: number;
  columns: number;
  rows: number;
  frameIds: string[];
  regions: WeaveRegion[];
}
