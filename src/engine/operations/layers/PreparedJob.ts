import type { Rectangle } from "../../../core/geometry/rectangle";
import type { MergeMethod } from "../../../kinds/merges/records";
import type { OffsetField } from "../../../core/retouch/fillFrom";
import type { Records } from "../../../document/records/types";
import type { Cutter } from "../matte/Cutter";
import type { MergeInputs, MergeResult } from "../merge/mergeTypes";
import type { ShownFrame } from "../merge/readLayer";

/** A job whose merge is at hand, so that any rectangle of it can be computed at once. */
export interface PreparedJob {
  records: Records;
  inputs: MergeInputs;
  merge: MergeResult;
  method: MergeMethod;
  /** frames that layers show and that are not among those merged, by id */
  pictures: ReadonlyMap<string, ShownFrame>;
  /** what layers cut out of their frames, by layer */
  cutouts: ReadonlyMap<string, Cutter>;
  /** where the areas of layers that fill are filled from, by layer */
  fills: ReadonlyMap<string, FillPlan>;
  /** how many of the lowest layers are kept together as they are, while the job is worked on */
  unchanged: number;
  /** what adjustments need of all that lies below them, by layer */
  prepared: ReadonlyMap<string, object>;
  /** the finest display level at hand */
  finest: number;
}

/** Where an area is filled from, on a level of its own. */
export interface FillPlan {
  level: number;
  rect: Rectangle;
  field: OffsetField;
}
