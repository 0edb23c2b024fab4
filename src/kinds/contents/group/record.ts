import { boolean } from "yup";
import type { ContentRecord } from "../fields";

/** Layers that are blended among themselves first; those of one that lets through work on what lies below it. */
export interface GroupContent {
  type: "group";
  through: boolean;
}

export const group: ContentRecord<GroupContent> = { fields: { through: boolean().required() } };
