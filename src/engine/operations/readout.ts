import { workingToLab } from "../../core/color/colorDifference";
import { LUMINANCE } from "../../core/color/primaries";
import { encodeSrgb } from "../../core/color/srgbCurve";
import { transform } from "../../core/geometry/matrix3";
import { frameNumber } from "../../document/selectors";
import type { EngineContext } from "../EngineContext";
import type { PreparedJob } from "./compose";
import { WORKING_TO_REC709 } from "./frameSamples";
import { patchMean } from "./patch";

export interface Readout {
  /** scene luminance against 18 % grey, EV; null where black */
  sceneEv: number | null;
  /** sRGB 0..255 of the finished picture */
  output: [number, number, number];
  lab: readonly [number, number, number];
  /** one-based number of the frame that gives most here */
  fromFrame: number;
}

/** What the picture is at one place of the reference, over a square sample. */
export function readOut(ctx: EngineContext, job: PreparedJob, x: number, y: number, radius: number): Readout {
  const merged = patchMean(ctx, job, x, y, radius, "merge");
  const finished = patchMean(ctx, job, x, y, radius, "finish");
  const light = merged[0] * LUMINANCE[0] + merged[1] * LUMINANCE[1] + merged[2] * LUMINANCE[2];
  const srgb = transform(WORKING_TO_REC709, finished).map((v) => Math.round(255 * Math.min(1, Math.max(0, encodeSrgb(Math.max(0, v))))));
  const index = new Uint8Array(1);
  const px = Math.max(0, Math.min(job.inputs.width - 1, Math.round(x)));
  const py = Math.max(0, Math.min(job.inputs.height - 1, Math.round(y)));
  job.merge.dominant.read(0, 0, px, py, 1, 1, index);
  return {
    sceneEv: light > 1e-9 ? Math.log2(light / 0.18) : null,
    output: srgb as [number, number, number],
    lab: workingToLab(finished),
    fromFrame: frameNumber(job.records, job.inputs.frames[index[0]].frame.id),
  };
}
