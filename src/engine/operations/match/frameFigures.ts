import { encodeSrgb } from "../../../core/color/srgbCurve";
import { levelOfSide, sizeAtLevel } from "../../../core/geometry/rectangle";
import { fillPixels, type CellRuns } from "../../../core/masks/cellRuns";
import { TO_OWN } from "../../../core/match/fitTransfer";
import { matchFigures, type MatchFigures } from "../../../core/match/figures";
import { BLOCK, NoiseGatherer, type NoiseFigures } from "../../../core/measure/noiseFigures";
import type { FrameRecord } from "../../../document/records/types";
import type { EngineContext } from "../../EngineContext";
import { framePicture } from "../matte/cutPicture";

/** Ends, colours by tone and noise of a frame, or of what a mask shows of it. */
export interface FrameFigures {
  ends: MatchFigures | null;
  noise: NoiseFigures;
}

/** Longest side at which ends are looked at, samples, and rows of blocks in which noise is. */
const SIDE = 640;
const ROWS = 32;

export async function frameFigures(ctx: EngineContext, frame: FrameRecord, mask: { cellPx: number; runs: CellRuns } | null): Promise<FrameFigures> {
  const picture = await framePicture(ctx, frame);
  const { width, height } = picture;
  const level = Math.min(picture.levels - 1, Math.max(0, levelOfSide(picture, SIDE)));
  const size = sizeAtLevel(width, height, level);
  const planes = picture.read(level, { x: 0, y: 0, ...size });
  const light: number[] = [];
  for (let y = 0; y < size.height; y++) {
    // a sample counts where its middle px is in
    const on = mask && fillPixels(mask.runs, mask.cellPx, { x: 0, y: Math.floor((y + 0.5) * 2 ** level), width, height: 1 });
    for (let x = 0; x < size.width; x++) {
      if (on && !on[Math.min(width - 1, Math.floor((x + 0.5) * 2 ** level))]) continue;
      for (let c = 0; c < 3; c++) light.push(planes[c][y * size.width + x]);
    }
  }
  const noise = new NoiseGatherer();
  const rows = Math.min(ROWS, Math.floor(height / BLOCK));
  for (let k = 0; k < rows; k++) {
    const strip = { x: 0, y: Math.floor(((k + 0.5) / rows) * (height - BLOCK)), width, height: BLOCK };
    const seen = picture.read(0, strip);
    const on = mask && fillPixels(mask.runs, mask.cellPx, strip);
    for (let x = 0; x + BLOCK <= width; x += BLOCK) {
      const block = [0, 1, 2].map(() => new Float32Array(BLOCK * BLOCK));
      let isIn = true;
      for (let i = 0; i < BLOCK * BLOCK && isIn; i++) {
        const at = Math.floor(i / BLOCK) * width + x + (i % BLOCK);
        if (on && !on[at]) isIn = false;
        for (let c = 0; c < 3; c++)
          block[c][i] = encodeSrgb(Math.max(0, TO_OWN[3 * c] * seen[0][at] + TO_OWN[3 * c + 1] * seen[1][at] + TO_OWN[3 * c + 2] * seen[2][at]));
      }
      if (isIn) noise.add(block);
    }
  }
  return { ends: matchFigures({ count: light.length / 3, light: Float32Array.from(light) }), noise: noise.figures() };
}
