import type { EngineContext } from "../../EngineContext";
import type { Task } from "../../task";
import type { Records } from "../../../document/records/types";
import { matchThing, type ThingMatch } from "./matchThing";
import { matchFrames, type MatchProposal, type MatchRequest } from "./matchFrames";

export const matchRequests = {
  /** What brings a frame to another, as ordinary adjustments. @throws Refusal where a side tells nothing, or pairs contradict each other */
  matchFrames: (ctx: EngineContext, p: MatchRequest, task: Task): Promise<MatchProposal> => matchFrames(ctx, p, task),
  /** A thing beside the plate around it, and the steps that bring it nearer; null where one of both tells nothing. */
  matchThing: (ctx: EngineContext, p: { records: Records; seatId: string; strength: number }, task: Task): Promise<ThingMatch | null> =>
    matchThing(ctx, p.records, p.seatId, p.strength, task),
};
