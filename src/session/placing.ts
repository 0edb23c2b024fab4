import { message, type Message, type Telling } from "../messages/message";
import type { Lens } from "../core/geometry/lens";
import { setPlacement } from "../document/edits";
import type { FramePlacement, Records } from "../document/records/types";
import { frameNumber, regionsOf, registrationOf } from "../document/selectors";
import type { PlacementWithCrop } from "../engine/operations/register/requests";
import type { Placing } from "../engine/operations/register/placements";
import type { JobScope } from "./JobScope";
import { openJob } from "./openJob";
import { notify, useSession } from "./store";

const { getState: get } = useSession;

/** What a placement depends on: its frame, the reference, and what is marked. */
const placed = (frameId: string) => (r: Records) => [r[frameId], registrationOf(r)?.referenceId, r[registrationOf(r)?.referenceId ?? ""], regionsOf(r)];

const numberOf = (frameId: string) => frameNumber(get().records, frameId);

/** Measures a placement and makes it the job's. @param label of the step */
async function place(
  frameId: string,
  what: Telling,
  label: Message,
  ask: (job: JobScope, records: Records, signal: AbortSignal) => Promise<PlacementWithCrop | null>,
): Promise<PlacementWithCrop | null> {
  const job = openJob();
  const { records } = get();
  const result = await job.run("register", what, (signal) => ask(job, records, signal));
  if (!result) return null;
  const { placement, proposedCrop } = result;
  const text = { stage: "register", label };
  return job.apply(records, placed(frameId), setPlacement(placement, proposedCrop), text) ? result : null;
}

/** Makes a placement by hand the job's. */
export async function keepPlacing(frameId: string, placing: Placing): Promise<boolean> {
  const applied = await place(frameId, "task.measuring", message("step.placed", { number: numberOf(frameId) }), (job, records, signal) =>
    job.ask("describePlacement", { records, frameId, placing }, { signal }),
  );
  return applied !== null;
}

/** Makes the placement that control points lead to the job's. */
export async function keepPoints(frameId: string, points: number[][], lens: Lens | null): Promise<boolean> {
  const how = message("step.placedByPoints", { number: numberOf(frameId), count: points.length });
  const applied = await place(frameId, "task.measuring", how, (job, records, signal) =>
    job.ask("placeByPoints", { records, frameId, points, lens }, { signal }),
  );
  return applied !== null;
}

/** Lets Marsh refine from where the frame was put. */
export async function refineFrom(frameId: string, placing: Placing): Promise<FramePlacement | null> {
  const applied = await place(frameId, "task.refining", message("step.refined", { number: numberOf(frameId) }), async (job, records, signal) => {
    const found = await job.ask("refinePlacement", { records, frameId, placing }, { signal });
    if (!found) notify("registering.nothingNear");
    return found;
  });
  return applied?.placement ?? null;
}
