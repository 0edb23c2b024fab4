import type { ContentRecord } from "../fields";

/** The merge once more. */
export interface MergeContent {
  type: "merge";
}

export const merge: ContentRecord<MergeContent> = { fields: {} };
