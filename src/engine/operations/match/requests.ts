import type { EngineContext } from "../../EngineContext";
import type { Task } from "../../task";
import type { CellRuns } from "../../../core/masks/cellRuns";
import { evenFrames, type EvenedFrame, type UnevenFrame } from "./evenFrames";
import { frameFigures, type FrameFigures } from "./frameFigures";
import type { FrameRecord, Records } from "../../../document/records/types";
import { matchThing, type ThingMatch } from "./matchThing";
import { matchFrames, matchOutput, type FrameMatch } from "./matchFrames";
import type { MatchMethod, MatchProposal } from "./matchPictures";

export const matchRequests = {
  /** Black, middle and white, colours by tone, noise by tone and grain of a frame, or of what a mask shows of it. */
  frameFigures: async (ctx: EngineContext, p: { frame: FrameRecord; mask: { cellPx: number; runs: CellRuns } | null }, task: Task): Promise<FrameFigures> => {
    await task.step(0, 1, "task.measuring");
    return frameFigures(ctx, p.frame, p.mask);
  },
  /** What brings a frame to another, as ordinary adjustments. @throws Refusal where a side tells nothing, places cannot be found, or pairs contradict each other */
  matchFrames: (ctx: EngineContext, p: FrameMatch, task: Task): Promise<MatchProposal> => matchFrames(ctx, p, task),
  /** What brings the picture of a job to one of its frames, likewise. @param method null: what suits them */
  matchOutput: (ctx: EngineContext, p: { records: Records; referenceId: string; method: MatchMethod | null }, task: Task): Promise<MatchProposal> =>
    matchOutput(ctx, p.records, p.referenceId, p.method, task),
  /** How each frame of a series is developed to come to one of them. @throws Refusal where that one tells nothing */
  evenFrames: (
    ctx: EngineContext,
    p: { records: Records; frames: FrameRecord[]; to: FrameRecord; exposureKept: readonly string[] },
    task: Task,
  ): Promise<(EvenedFrame | UnevenFrame)[]> => evenFrames(ctx, p.records, p.frames, p.to, p.exposureKept, task),
  /** A thing beside the plate around it, and the steps that bring it nearer; null where one of both tells nothing. */
  matchThing: (ctx: EngineContext, p: { records: Records; seatId: string; strength: number }, task: Task): Promise<ThingMatch | null> =>
    matchThing(ctx, p.records, p.seatId, p.strength, task),
};
