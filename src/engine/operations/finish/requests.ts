import type { Rectangle } from "../../../core/geometry/rectangle";
import type { Records } from "../../../document/records/types";
import type { EngineContext } from "../../EngineContext";
import type { Task } from "../../task";
import { prepareJob } from "../layers/compose";
import { measureTones } from "./measureTones";
import { mendNeutral, readNeutralPins } from "./neutralPins";
import { proposeRenderings, type Renderings } from "./renderings";
import { proposeFinish, proposeFrame } from "./proposals";

export const finishRequests = {
  /** Which frame is best in a region. */
  proposeFrame: async (ctx: EngineContext, p: { records: Records; region: Rectangle }, task: Task) =>
    proposeFrame(ctx, await prepareJob(ctx, p.records, task), p.region),
  proposeFinish: async (ctx: EngineContext, p: { records: Records }, task: Task) => proposeFinish(ctx, await prepareJob(ctx, p.records, task)),
  /** Renderings of the merge in every character, by what is measured in it. */
  proposeRenderings: (ctx: EngineContext, p: { records: Records }, task: Task): Promise<Renderings> => proposeRenderings(ctx, p.records, task),
  /** What neutral pins read in the finished picture, and what takes them off. */
  readNeutralPins: async (ctx: EngineContext, p: { records: Records }, task: Task) => readNeutralPins(ctx, await prepareJob(ctx, p.records, task)),
  /** How the cast of a place that ought to be neutral is mended along the thing there; null where nothing is found. */
  mendNeutral: (ctx: EngineContext, p: { records: Records; pinId: string }, task: Task) => mendNeutral(ctx, p.records, p.pinId, task),
  /** Range of light and hues of the merge with its layers. */
  measureTones: async (ctx: EngineContext, p: { records: Records }, task: Task) => measureTones(ctx, await prepareJob(ctx, p.records, task), task),
};
