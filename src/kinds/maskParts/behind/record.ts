import type { PartRecord } from "../fields";

/** What of something seated is hidden by marked surfaces of the plate that stand nearer. */
export interface Behind {
  kind: "behind";
}

export const behind: PartRecord<Behind> = { fields: {}, values: {} };
