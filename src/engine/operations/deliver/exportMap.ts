import { encode } from "fast-png";
import { FRAME_COLORS } from "../../../core/color/frameColors";
import { fillPixels } from "../../../core/masks/cellRuns";
import type { MergeMethod } from "../../../kinds/merges/records";
import type { Records } from "../../../document/records/types";
import { outputGeometry } from "../../../document/outputGeometry";
import { ghostsOf } from "../../../document/selectors";
import type { EngineContext } from "../../EngineContext";
import { prepareJob } from "../layers/compose";
import { confidenceCode, noiseOfRectangle } from "../merge/confidence";
import { NOBODY } from "../../../core/merge/frameShares";
import { portion, type Task } from "../../task";

const ROWS = 256;

/** ghosts: white where something moved. provenance: the colour of the frame that gives most. confidence: light against its noise, 32 codes a doubling. */
export type MapKind = "ghosts" | "provenance" | "confidence";

/** A map of the merge as 8-bit PNG at the picture's size. */
export async function exportMap(ctx: EngineContext, records: Records, kind: MapKind, cropped: boolean, task: Task, method?: MergeMethod): Promise<Uint8Array> {
  const job = await prepareJob(ctx, records, portion(task, 0, 0.6), method);
  const crop = cropped ? outputGeometry(records).crop : { x: 0, y: 0, width: job.inputs.width, height: job.inputs.height };
  const channels = kind === "provenance" ? 3 : 1;
  const data = new Uint8Array(crop.width * crop.height * channels);
  if (kind === "ghosts") {
    for (const ghost of ghostsOf(records)) {
      fillPixels(ghost.runs, ghost.cellPx, crop).forEach((on, i) => on && (data[i] = 255));
    }
  } else {
    for (let y = 0; y < crop.height; y += ROWS) {
      await task.step(0.6 + (0.4 * y) / crop.height, 1, "task.writingMap");
      const rows = Math.min(ROWS, crop.height - y);
      if (kind === "confidence") {
        noiseOfRectangle(job, 0, { x: crop.x, y: crop.y + y, width: crop.width, height: rows }).forEach(
          (v, i) => (data[y * crop.width + i] = confidenceCode(v)),
        );
        continue;
      }
      const index = new Uint8Array(crop.width * rows);
      job.merge.dominant.read(0, 0, crop.x, crop.y + y, crop.width, rows, index);
      index.forEach((k, i) => k !== NOBODY && data.set(FRAME_COLORS[k % FRAME_COLORS.length], (y * crop.width + i) * 3));
    }
  }
  return encode({ width: crop.width, height: crop.height, data, channels, depth: 8 });
}
