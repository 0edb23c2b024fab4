import type { EngineContext } from "../../EngineContext";
import type { Task } from "../../task";
import type { CellRuns } from "../../../core/masks/cellRuns";
import { frameFigures, type FrameFigures } from "./frameFigures";
import type { FrameRecord, Records } from "../../../document/records/types";
import { matchThing, type ThingMatch } from "./matchThing";
import { matchFrames, showsPlaces, type MatchProposal, type MatchRequest } from "./matchFrames";

export const matchRequests = {
  /** Black, middle and white, colours by tone, noise by tone and grain of a frame, or of what a mask shows of it. */
  frameFigures: async (ctx: EngineContext, p: { frame: FrameRecord; mask: { cellPx: number; runs: CellRuns } | null }, task: Task): Promise<FrameFigures> => {
    await task.step(0, 1, "task.measuring");
    return frameFigures(ctx, p.frame, p.mask);
  },
  /** Whether a frame is a picture of something, in which places can be looked for. */
  showsPlaces: (ctx: EngineContext, p: { frame: FrameRecord }): Promise<boolean> => showsPlaces(ctx, p.frame),
  /** What brings a frame to another, as ordinary adjustments. @throws Refusal where a side tells nothing, or pairs contradict each other */
  matchFrames: (ctx: EngineContext, p: MatchRequest, task: Task): Promise<MatchProposal> => matchFrames(ctx, p, task),
  /** A thing beside the plate around it, and the steps that bring it nearer; null where one of both tells nothing. */
  matchThing: (ctx: EngineContext, p: { records: Records; seatId: string; strength: number }, task: Task): Promise<ThingMatch | null> =>
    matchThing(ctx, p.records, p.seatId, p.strength, task),
};
