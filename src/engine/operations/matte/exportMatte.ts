import type { FrameRecord } from "../../../document/records/types";
import { TiffWriter } from "../../../formats/tiff/TiffWriter";
import type { Task } from "../../task";
import { WORKING_TO_REC709 } from "../frames/frameSamples";
import type { Matte } from "./makeMatte";

const ROWS = 128;
const M = WORKING_TO_REC709;

/** Alpha as one-channel 16-bit TIFF of the picture's size. */
export async function alphaFile({ width, height }: FrameRecord, { rect, alpha }: Matte, task: Task): Promise<Uint8Array[]> {
  const writer = new TiffWriter({ width, height, bits: 16, channels: 1, metadata: [], profile: null });
  for (let y = 0; y < height; y += ROWS) {
    await task.step(y, height, "task.writing");
    const rows = Math.min(ROWS, height - y);
    const out = new Uint16Array(width * rows);
    inside(rect, y, rows, (from, to) => {
      for (let x = 0; x < rect.width; x++) out[to * width + rect.x + x] = Math.round(65535 * alpha[from * rect.width + x]);
    });
    writer.writeRows(out);
  }
  return writer.finish();
}

/** Colours in front as 32-bit float TIFF of the picture's size: linear light, Rec. 709, not multiplied by alpha; black where nothing is in front. */
export async function frontFile({ width, height }: FrameRecord, { rect, alpha, front }: Matte, task: Task): Promise<Uint8Array[]> {
  const writer = new TiffWriter({ width, height, bits: 32, metadata: [], profile: null });
  for (let y = 0; y < height; y += ROWS) {
    await task.step(y, height, "task.writing");
    const rows = Math.min(ROWS, height - y);
    const out = new Float32Array(3 * width * rows);
    inside(rect, y, rows, (from, to) => {
      for (let x = 0; x < rect.width; x++) {
        const i = from * rect.width + x;
        if (alpha[i] === 0) continue;
        const at = 3 * (to * width + rect.x + x);
        const [r, g, b] = [front[0][i], front[1][i], front[2][i]];
        for (let c = 0; c < 3; c++) out[at + c] = M[3 * c] * r + M[3 * c + 1] * g + M[3 * c + 2] * b;
      }
    });
    writer.writeRows(out);
  }
  return writer.finish();
}

/** Rows of a strip that lie in a rectangle: which of its rows, and which of the strip's. */
function inside(rect: { y: number; height: number }, y: number, rows: number, each: (from: number, to: number) => void): void {
  for (let row = Math.max(y, rect.y); row < Math.min(y + rows, rect.y + rect.height); row++) each(row - rect.y, row - y);
}
