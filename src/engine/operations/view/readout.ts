import { workingToLab } from "../../../core/color/colorDifference";
import { LUMINANCE } from "../../../core/color/primaries";
import { encodeSrgb } from "../../../core/color/srgbCurve";
import { transform } from "../../../core/geometry/matrix3";
import { frameNumber } from "../../../document/selectors";
import type { EngineContext } from "../../EngineContext";
import { WORKING_TO_REC709 } from "../frames/frameSamples";
import { patchMean } from "../finish/patch";
import { SHARE_CELL } from "../merge/shares";
import type { PreparedJob } from "../layers/PreparedJob";

export interface Readout {
  /** scene luminance against 18 % grey, EV; null where black */
  sceneEv: number | null;
  /** sRGB 0..255 of the finished picture */
  output: [number, number, number];
  lab: readonly [number, number, number];
  /** what the frames give here, most first: one-based number and share; those below 5 % are left out */
  gives: { number: number; share: number }[];
}

/** What the picture is at one place of the reference, over a square sample. */
export function readOut(ctx: EngineContext, job: PreparedJob, x: number, y: number, radius: number): Readout {
  const merged = patchMean(ctx, job, x, y, radius, "merge");
  const finished = patchMean(ctx, job, x, y, radius, "finish");
  const light = merged[0] * LUMINANCE[0] + merged[1] * LUMINANCE[1] + merged[2] * LUMINANCE[2];
  const srgb = transform(WORKING_TO_REC709, finished).map((v) => Math.round(255 * Math.min(1, Math.max(0, encodeSrgb(Math.max(0, v))))));
  const { shares } = job.merge;
  const cell = [x, y].map((v, i) => Math.max(0, Math.min((i ? shares.spec.height : shares.spec.width) - 1, Math.floor((v + 0.5) / SHARE_CELL))));
  const part = new Uint8Array(1);
  const gives = job.inputs.frames.map(({ frame }, k) => {
    shares.read(0, k, cell[0], cell[1], 1, 1, part);
    return { number: frameNumber(job.records, frame.id), share: part[0] / 255 };
  });
  return {
    sceneEv: light > 1e-9 ? Math.log2(light / 0.18) : null,
    output: srgb as [number, number, number],
    lab: workingToLab(finished),
    gives: gives.filter((g) => g.share >= 0.05).sort((p, q) => q.share - p.share),
  };
}
