import type { ContentRecord } from "../fields";

/** All that lies below it, as it is now: flattened, and never stale. */
export interface BelowContent {
  type: "below";
}

export const below: ContentRecord<BelowContent> = { fields: {} };
