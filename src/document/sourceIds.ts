import type { Step } from "./history";
import type { FrameRecord } from "./records/types";

/** Every source that any step refers to, as a frame of it: going back still needs them. */
export function sourcesOfSteps(steps: Step[]): Map<string, FrameRecord> {
  const found = new Map<string, FrameRecord>();
  for (const { diff } of steps) {
    const records = [...Object.values(diff.added), ...Object.values(diff.updated).flat()];
    for (const record of records) if (record.kind === "frame") found.set(record.sourceId, record);
  }
  return found;
}

export const sourceIdsOf = (steps: Step[]): string[] => [...sourcesOfSteps(steps).keys()];
