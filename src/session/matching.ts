import { message, type PlainCode } from "../messages/message";
import type { StepProposal } from "../core/match/steps";
import type { ThingMatch } from "../engine/operations/match/matchThing";
import type { Mending } from "../engine/operations/finish/neutralPins";
import type { MatchMethod, MatchProposal } from "../engine/operations/match/matchPictures";
import { layMatch } from "../document/matchEdits";
import type { SeatRecord } from "../document/records/plateTypes";
import type { Records } from "../document/records/types";
import type { CallOptions } from "../workers/client/EngineClient";
import type { JobScope } from "./JobScope";
import { edit, openJob } from "./openJob";
import type { Stage } from "./stages";
import { notify, useSession } from "./store";

/** A comparison, and the state of the job that it was made of. */
export interface Compared {
  records: Records;
  told: ThingMatch;
}

/** Compares a thing with the plate around it; where one of both tells nothing, that is said. */
export async function compareThing(seat: SeatRecord, strength: number): Promise<Compared | null> {
  const { records } = useSession.getState();
  const told = await askOrTell("compose", "task.matching", "match.thingTellsNothing", (job, options) =>
    job.ask("matchThing", { records, seatId: seat.id, strength }, options),
  );
  return told && { records, told };
}

/** Asks in a task of its own; what tells nothing is said, unless it was stopped. */
async function askOrTell<T>(
  stage: Stage,
  task: PlainCode,
  nothing: PlainCode,
  ask: (job: JobScope, options: CallOptions) => Promise<T | null>,
): Promise<T | null> {
  const job = openJob();
  let isDone = false;
  const told = await job.run(stage, task, async (signal, onProgress) => {
    const answer = await ask(job, { signal, onProgress });
    isDone = true;
    return answer;
  });
  if (!told && isDone) notify(nothing);
  return told;
}
/** Lays what steps propose on a thing, in their order, at once. @param names of the layers */
export const takeSteps = (seat: SeatRecord, steps: readonly StepProposal[], names: readonly string[]): boolean =>
  edit((records) => steps.reduce((r, step, i) => layMatch(seat.layerId, step, names[i])(r), records), {
    stage: "compose",
    label: message("step.matched", { name: names.join(", ") }),
  });

/** A comparison of the picture with a reference, and the state of the job that it was made of. */
export interface ComparedPicture {
  records: Records;
  referenceId: string;
  told: MatchProposal;
}

/** Compares the picture as it would be delivered with another picture of the job. */
export async function compareOutput(referenceId: string, method: MatchMethod | null): Promise<ComparedPicture | null> {
  const { records } = useSession.getState();
  const job = openJob();
  const told = await job.run("finish", "task.matching", (signal, onProgress) =>
    job.ask("matchOutput", { records, referenceId, method }, { signal, onProgress }),
  );
  return told && { records, referenceId, told };
}

/** How a neutral pin is mended where it is; where nothing is found around it, that is said. */
export function lookToMend(pinId: string): Promise<Mending | null> {
  const { records } = useSession.getState();
  return askOrTell("finish", "task.around", "match.nothingAround", (job, options) => job.ask("mendNeutral", { records, pinId }, options));
}
