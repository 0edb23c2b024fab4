import type { Schema } from "yup";

/** Change that is not of any size in particular. */
export const ANY_SIZE = Infinity;

export interface ContentRecord<C> {
  /** what it holds besides its type */
  fields: Record<string, Schema>;
  /** whether values that are each sound go together */
  isSound?: (content: C) => boolean;
  /** size of the finest detail that it changes, px: what a level has to hold for that to be seen there; of any size where nothing is said */
  finestPx?: (content: C) => number;
  /** samples around a place that it looks at, at a level; none where nothing is said */
  reach?: (content: C, level: number) => number;
  /** what it shows besides what it holds: frames, all that lies below it in its group, wherever that is, what another layer shows, as that is seated, what is known of the plate, or that and all that is seated in it */
  reads?: (content: C) => { frameIds?: string[]; below?: boolean; seatedId?: string; plate?: boolean; seated?: boolean };
}
