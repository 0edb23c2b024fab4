import { message } from "../messages/message";
import { developFrames } from "../document/edits";
import type { FrameRecord, Records } from "../document/records/types";
import type { EvenedFrame, UnevenFrame } from "../engine/operations/match/evenFrames";
import { edit, openJob } from "./openJob";
import { useSession } from "./store";

/** What the frames of a series lack against one of them, and the state of the job that this was told of. */
export interface ToldSeries {
  records: Records;
  toId: string;
  frames: (EvenedFrame | UnevenFrame)[];
}

/** Whether a frame tells how it is to be developed. */
export const isEvened = (frame: EvenedFrame | UnevenFrame): frame is EvenedFrame => !("why" in frame);

/** Compares frames with one of them. @param keepsExposure what differs in exposure on purpose keeps that */
export async function lookAtSeries(frames: FrameRecord[], to: FrameRecord, keepsExposure: boolean): Promise<ToldSeries | null> {
  const { records } = useSession.getState();
  const job = openJob();
  const told = await job.run("gather", "task.comparing", (signal, onProgress) =>
    job.ask("evenFrames", { records, frames, to, keepsExposure }, { signal, onProgress }),
  );
  return told && { records, toId: to.id, frames: told };
}

/** Develops frames as they were told to be, in one step. @param number of the frame that they come to */
export const developSeries = (frames: readonly EvenedFrame[], number: number): boolean =>
  edit((r) => frames.reduce((all, { frameId, exposureEv, mired, duv }) => developFrames([frameId], { exposureEv, mired, duv })(all), r), {
    stage: "gather",
    label: message("step.evened", { number, count: frames.length }),
  });
