import type { Step } from "./history";
import type { QuarterTurns } from "../core/raster/orientation";
import type { FrameRecord } from "./records/types";

/** A file that a job needs. */
export interface SourceOf {
  sourceId: string;
  /** what kind of file it is */
  format: string;
  fileName: string;
}

/** Every source that any step refers to: pictures of frames and profiles of targets. Going back still needs them. */
export function sourcesOfSteps(steps: Step[]): Map<string, SourceOf> {
  const found = new Map<string, SourceOf>();
  for (const { diff } of steps) {
    const records = [...Object.values(diff.added), ...Object.values(diff.updated).flat()];
    for (const record of records) {
      if (record.kind === "frame") found.set(record.sourceId, record);
      if (record.kind === "target") found.set(record.sourceId, { ...record, format: "ICC" });
    }
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
