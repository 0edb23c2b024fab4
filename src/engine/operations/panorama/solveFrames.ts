import { solvePanorama, type PanoramaSolution } from "../../../core/panorama/solvePanorama";
import type { PanoramaFrame } from "../../../core/panorama/tieFrames";
import type { Tie } from "../../../core/panorama/adjustCameras";
import type { FrameRecord } from "../../../document/records/types";
import type { EngineContext } from "../../EngineContext";
import { portion, type Task } from "../../task";
import { featureTools } from "../register/featureTools";
import { greyOfFrame } from "../frames/greyOfSource";

/** Grey samples a frame that are looked at: finer ones tell the directions no better. */
const MOST_SAMPLES = 3_000_000;

export interface SolveRequest {
  focalPx: number | null;
  points: Tie[];
}

/** Directions and lens of frames that turned about one point. A lens that all developments know is undone before they are looked at. */
export async function solveFrames(ctx: EngineContext, frames: FrameRecord[], request: SolveRequest, task: Task): Promise<PanoramaSolution> {
  const looked: PanoramaFrame[] = [];
  for (const [i, frame] of frames.entries()) {
    await task.step(0.2 * i, frames.length, "task.looking");
    const { width, height } = frame;
    const level = Math.max(0, Math.ceil(Math.log2((width * height) / MOST_SAMPLES) / 2));
    looked.push({ width, height, level, grey: await greyOfFrame(ctx, frame, level) });
  }
  const rest = portion(task, 0.2, 1);
  const straight = frames.every((f) => f.development.lens !== null);
  return solvePanorama(looked, { ...request, straight, tools: featureTools(ctx.kernels) }, (done, what) => rest.step(done, 1, what));
}
