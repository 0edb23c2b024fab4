import { FROM_REC709 } from "../../../core/color/primaries";
import { levelOfSide, sizeAtLevel } from "../../../core/geometry/rectangle";
import { fillPixels, type CellRuns } from "../../../core/masks/cellRuns";
import { estimateIlluminant, type Illuminant } from "../../../core/color/illuminant";
import { lightPlace, type LightPlace } from "../../../core/color/whiteBalance";
import { transform } from "../../../core/geometry/matrix3";
import { ownPlanes } from "../../../core/match/fitTransfer";
import { matchFigures, type MatchFigures } from "../../../core/match/figures";
import { BLOCK, encodedBlock, NoiseGatherer, type NoiseFigures } from "../../../core/measure/noiseFigures";
import type { FrameRecord } from "../../../document/records/types";
import type { EngineContext } from "../../EngineContext";
import { framePicture } from "../matte/cutPicture";

/** Ends, colours by tone and noise of a frame, or of what a mask shows of it. */
export interface FrameFigures {
  ends: MatchFigures | null;
  noise: NoiseFigures;
  /** the light it was taken in; null under a mask, and where it does not tell */
  illuminant: (Illuminant & { place: LightPlace | null }) | null;
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
      const isIn = !on || Array.from({ length: BLOCK * BLOCK }, (_, i) => on[Math.floor(i / BLOCK) * width + x + (i % BLOCK)]).every(Boolean);
      if (isIn) noise.add(encodedBlock(seen, width, x, 0));
    }
  }
  const told = mask ? null : estimateIlluminant(ownPlanes(planes), size.width, size.height, ctx.filters);
  return {
    ends: matchFigures({ count: light.length / 3, light: Float32Array.from(light) }),
    noise: noise.figures(),
    illuminant: told && { ...told, place: lightPlace(transform(FROM_REC709, told.rgb)) },
  };
}
