import type { FrameRecord } from "../../../document/records/types";
import { TiffWriter } from "../../../formats/tiff/TiffWriter";
import type { Task } from "../../task";
import { WORKING_TO_REC709 } from "../frames/frameSamples";
import type { CutPicture } from "./CutProposals";
import { eachInFront, type FreedMatte } from "./LevelMatte";

const ROWS = 128;
const M = WORKING_TO_REC709;

/** Alpha as one-channel 16-bit TIFF of the picture's size. */
export async function alphaFile({ width, height }: FrameRecord, matte: FreedMatte, task: Task): Promise<Uint8Array[]> {
  const writer = new TiffWriter({ width, height, bits: 16, channels: 1, metadata: [], profile: null });
  for (let y = 0; y < height; y += ROWS) {
    await task.step(y, height, "task.writing");
    const strip = { x: 0, y, width, height: Math.min(ROWS, height - y) };
    const out = new Uint16Array(width * strip.height);
    eachInFront(matte, strip, (i, alpha) => (out[i] = Math.round(65535 * alpha)));
    writer.writeRows(out);
  }
  return writer.finish();
}

/** Colours in front as 32-bit float TIFF of the picture's size: linear light, Rec. 709, not multiplied by alpha; black where nothing is in front. */
export async function frontFile({ width, height }: FrameRecord, picture: CutPicture, matte: FreedMatte, task: Task): Promise<Uint8Array[]> {
  const writer = new TiffWriter({ width, height, bits: 32, metadata: [], profile: null });
  for (let y = 0; y < height; y += ROWS) {
    await task.step(y, height, "task.writing");
    const strip = { x: 0, y, width, height: Math.min(ROWS, height - y) };
    const own = picture.read(0, strip);
    const out = new Float32Array(3 * width * strip.height);
    eachInFront(matte, strip, (i, alpha, k) => {
      if (alpha === 0) return;
      const [r, g, b] = [0, 1, 2].map((c) => (k < 0 ? own[c][i] : matte.front[3 * k + c]));
      for (let c = 0; c < 3; c++) out[3 * i + c] = M[3 * c] * r + M[3 * c + 1] * g + M[3 * c + 2] * b;
    });
    writer.writeRows(out);
  }
  return writer.finish();
}
