import type { ContentRecord } from "../fields";

/** Layers that are blended among themselves first. */
export interface GroupContent {
  type: "group";
}

export const group: ContentRecord<GroupContent> = { fields: {} };
