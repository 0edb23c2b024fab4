import type { Records } from "../../../document/records/types";
import type { EngineContext } from "../../EngineContext";
import type { Task } from "../../task";
import { measurePrint } from "./printing";
import { readTarget } from "./readTarget";

export const printRequests = {
  /** What a profile calls itself and what it drives. @throws FormatError where it cannot print */
  readTarget: (ctx: EngineContext, p: { profile: Uint8Array }) => readTarget(ctx, p.profile),
  /** What the target of a job makes of the picture; null where none was chosen. */
  measurePrint: (ctx: EngineContext, p: { records: Records }, task: Task) => measurePrint(ctx, p.records, task),
};
