import { base } from "./base/operation";
import { clippedMean } from "./clippedMean/operation";
import { focus } from "./focus/operation";
import { fusion } from "./fusion/operation";
import { mean } from "./mean/operation";
import { median } from "./median/operation";
import { panorama } from "./panorama/operation";
import { radiance } from "./radiance/operation";
import type { MergeKind } from "./fields";
import type { MERGE_RECORDS, MergeMethod } from "./records";
import type { MergeOperation } from "./tools";

/** How each way of merging is carried out. */
export const MERGE_OPERATIONS: { [M in MergeMethod]: (typeof MERGE_RECORDS)[M] extends MergeKind<infer Own> ? MergeOperation<Own> : never } = {
  radiance,
  fusion,
  focus,
  clippedMean,
  mean,
  median,
  base,
  panorama,
};

export const operationOf = (method: MergeMethod) => MERGE_OPERATIONS[method] as unknown as MergeOperation<object>;
