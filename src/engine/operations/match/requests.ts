import type { EngineContext } from "../../EngineContext";
import type { Task } from "../../task";
import { matchFrames, type MatchProposal, type MatchRequest } from "./matchFrames";

export const matchRequests = {
  /** What brings a frame to another, as ordinary adjustments. @throws Refusal where a side tells nothing, or pairs contradict each other */
  matchFrames: (ctx: EngineContext, p: MatchRequest, task: Task): Promise<MatchProposal> => matchFrames(ctx, p, task),
};
