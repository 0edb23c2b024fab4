import type { SetKindRecord } from "../fields";

/** Overlapping views from one place. */
export const panorama: SetKindRecord = {
  checks: ["overlaps", "locks", "shallow"],
  isSequence: true,
  comparesTone: true,
  looksElsewhere: true,
  isOfOneMoment: true,
};
