import type { Records } from "../../../document/records/types";
import type { EngineContext } from "../../EngineContext";
import type { Task } from "../../task";
import { prepareJob } from "../layers/compose";
import { findInMerge, type FoundPart } from "./foundMask";

export const maskMessages = {
  /** How much of the picture something is that is looked for, and how sure that is, 0..1. */
  judgeFound: async (ctx: EngineContext, p: { records: Records; part: FoundPart }, task: Task) => {
    const { share, confidence } = findInMerge(ctx, await prepareJob(ctx, p.records, task), p.part);
    return { share, confidence };
  },
};
