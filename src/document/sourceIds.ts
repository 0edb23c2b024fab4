import type { Step } from "./history";
import type { QuarterTurns } from "../core/raster/orientation";
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

/** Names the picture that a frame is: its source as its file says, or turned by quarters. */
export const pictureIdOf = ({ sourceId, quarterTurns }: Pick<FrameRecord, "sourceId" | "quarterTurns">): string =>
  quarterTurns === 0 ? sourceId : `${sourceId}~${quarterTurns}`;

/** The source of a picture, and by how many quarters it is turned clockwise. */
export function sourceOfPicture(pictureId: string): { sourceId: string; quarterTurns: QuarterTurns } {
  const [sourceId, turns] = pictureId.split("~");
  return { sourceId, quarterTurns: Number(turns ?? 0) as QuarterTurns };
}
