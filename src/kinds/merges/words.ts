import { base } from "./base/words";
import { clippedMean } from "./clippedMean/words";
import { focus } from "./focus/words";
import { fusion } from "./fusion/words";
import { mean } from "./mean/words";
import { median } from "./median/words";
import { panorama } from "./panorama/words";
import { radiance } from "./radiance/words";
import type { MergeMethod } from "./records";
import type { MergeWords } from "./wording";

/** What each way of merging is called. */
export const MERGE_WORDS: Record<MergeMethod, MergeWords> = { radiance, fusion, focus, clippedMean, mean, median, base, panorama };
