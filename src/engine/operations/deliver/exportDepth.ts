import type { Records } from "../../../document/records/types";
import { outputGeometry } from "../../../document/outputGeometry";
import { TiffWriter } from "../../../formats/tiff/TiffWriter";
import type { EngineContext } from "../../EngineContext";
import { focusDepth, readDepthRows } from "../merge/mergeFocus";
import { openMergeInputs } from "../merge/mergeInputs";
import { portion, type Task } from "../../task";

const ROWS = 128;

/** The depth of a focus stack as one-channel 32-bit float TIFF: index of the sharpest frame, fractional, in the order given. */
export async function exportDepth(ctx: EngineContext, records: Records, cropped: boolean, task: Task): Promise<Uint8Array[]> {
  const inputs = await openMergeInputs(ctx, records, portion(task, 0, 0.2));
  const depth = await focusDepth(ctx, inputs, portion(task, 0.2, 0.8));
  const crop = cropped ? outputGeometry(records).crop : { x: 0, y: 0, width: inputs.width, height: inputs.height };
  const writer = new TiffWriter({ width: crop.width, height: crop.height, bits: 32, channels: 1, metadata: [], profile: null });
  for (let y = 0; y < crop.height; y += ROWS) {
    await task.step(0.8 + (0.2 * y) / crop.height, 1, "task.writingDepth");
    const rows = Math.min(ROWS, crop.height - y);
    const whole = readDepthRows(depth, inputs.width, crop.y + y, rows);
    const part = new Float32Array(crop.width * rows);
    for (let r = 0; r < rows; r++) part.set(whole.subarray(r * inputs.width + crop.x, r * inputs.width + crop.x + crop.width), r * crop.width);
    writer.writeRows(part);
  }
  return writer.finish();
}
