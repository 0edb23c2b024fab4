import type { Records } from "../../../document/records/types";
import type { EngineContext } from "../../EngineContext";
import type { Task } from "../../task";
import { inspectBorder } from "./edgeFindings";
import { measureEffect } from "./measureEffect";
import { runProof } from "./proof";

export const proofRequests = {
  proof: (ctx: EngineContext, p: { records: Records }, task: Task) => runProof(ctx, p.records, task),
  inspectBorder: (ctx: EngineContext, p: { records: Records; by: "reference" | "picture" }, task: Task) => inspectBorder(ctx, p.records, p.by, task),
  /** What a step did; null where the two cannot be compared. */
  measureEffect: (ctx: EngineContext, p: { before: Records; after: Records }, task: Task) => measureEffect(ctx, p.before, p.after, task),
};
