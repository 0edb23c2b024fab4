import { base } from "./base/controls";
import { clippedMean } from "./clippedMean/controls";
import { focus } from "./focus/controls";
import { fusion } from "./fusion/controls";
import { mean } from "./mean/controls";
import { median } from "./median/controls";
import { panorama } from "./panorama/controls";
import { radiance } from "./radiance/controls";
import type { MergeControls } from "./controlling";
import type { MergeMethod, MergeRecord } from "./records";

/** The controls of each way of merging. */
export const MERGE_CONTROLS: { [M in MergeMethod]: MergeControls<M> } = { radiance, fusion, focus, clippedMean, mean, median, base, panorama };

/** Those of a merge, whatever its method. */
export const controlsOf = (record: MergeRecord) => MERGE_CONTROLS[record.method] as unknown as MergeControls<MergeMethod>;
