import type { Records } from "../../document/records/types";
import type { EngineContext } from "../../engine/EngineContext";
import type { DerivedCache } from "../../engine/graph/DerivedCache";
import type { PreparedJob } from "../../engine/operations/layers/PreparedJob";
import type { MergeInputs, MergeResult } from "../../engine/operations/merge/mergeTypes";
import type { Task } from "../../engine/task";

export interface MergeOperation<Own> {
  /** frames as the method reads them; as they were opened where nothing is said */
  reads?: (cache: DerivedCache, records: Records, inputs: MergeInputs) => MergeInputs;
  /** opens the merge from the store, or makes it */
  open: (ctx: EngineContext, inputs: MergeInputs, records: Records, task: Task) => Promise<MergeResult>;
  /** exposure that it has against the reference, EV; none where nothing is said */
  exposureEv?: (records: Records, inputs: MergeInputs) => number;
  /** what it finds out about the frames before it is made, which it may then use */
  finds?: (inputs: MergeInputs, own: Own, task: Task) => Promise<Partial<Own>>;
  /** what is measured of the merge once it is made */
  measures?: (ctx: EngineContext, job: PreparedJob, own: Own, task: Task) => Promise<Partial<Own>>;
}
