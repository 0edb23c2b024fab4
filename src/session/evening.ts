import { message } from "../messages/message";
import { setRecord } from "../kinds/sets/records";
import { developFrames } from "../document/edits";
import { setsOf } from "../document/selectors";
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

/** Compares frames with one of them; those of a set whose exposures rise by steps differ in that on purpose, and keep it. */
export async function lookAtSeries(frames: FrameRecord[], to: FrameRecord): Promise<ToldSeries | null> {
  const { records } = useSession.getState();
  const exposureKept = frames.filter((f) => hasSteps(records, f.setId)).map((f) => f.id);
  const job = openJob();
  const told = await job.run("gather", "task.comparing", (signal, onProgress) =>
    job.ask("evenFrames", { records, frames, to, exposureKept }, { signal, onProgress }),
  );
  return told && { records, toId: to.id, frames: told };
}

const hasSteps = (records: Records, setId: string): boolean => setRecord(setsOf(records).find((s) => s.id === setId)?.setKind ?? "single").hasSteps === true;

/** Develops frames as they were told to be, in one step; those that are so already keep what was made of them. @param number of the frame that they come to */
export const developSeries = (frames: readonly EvenedFrame[], number: number): boolean =>
  edit(
    (r) => frames.filter((f) => lacks(r, f)).reduce((all, { frameId, exposureEv, mired, duv }) => developFrames([frameId], { exposureEv, mired, duv })(all), r),
    {
      stage: "gather",
      label: message("step.evened", { number, count: frames.length }),
    },
  );

/** Whether a frame is developed otherwise than it was told to be. */
export function lacks(records: Records, { frameId, exposureEv, mired, duv }: EvenedFrame): boolean {
  const frame = records[frameId];
  if (frame?.kind !== "frame") return false;
  const now = frame.development;
  return now.exposureEv !== exposureEv || now.mired !== mired || now.duv !== duv;
}
