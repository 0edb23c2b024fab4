import { message } from "../messages/message";
import { airNow, layHaze, clearPlate } from "../document/hazeEdits";
import type { SeatRecord } from "../document/records/plateTypes";
import { plateNow, tellPlate } from "../document/seatEdits";
import { sceneryOf } from "../document/seatGeometry";
import { documentSize, layerOf, mergeOf, plateOf } from "../document/selectors";
import type { Records } from "../document/records/types";
import { edit, openJob } from "./openJob";
import { notify, useSession } from "./store";

/** How far away a place is taken to be where no ground tells, metres. */
const FAR_M = 200;

/** What the air of a plate is measured from, besides its frames. */
const measuredFrom = (records: Records) => {
  const plate = plateOf(records);
  return [mergeOf(records), plate?.stance, plate?.heightM, plate?.surfaces, plate?.hazeMarks];
};

/** Measures how much the air of the plate hides with distance; where too little tells, that is said and nothing changes. */
export async function measureAir(): Promise<void> {
  const { records } = useSession.getState();
  const job = openJob();
  let isDone = false;
  const told = await job.run("compose", "task.looking", async (signal, onProgress) => {
    const found = await job.ask("measureHaze", { records }, { signal, onProgress });
    isDone = true;
    return found;
  });
  if (!told) {
    if (isDone) notify("plate.noHaze");
    return;
  }
  const { color, perM } = told;
  job.apply(records, measuredFrom, tellPlate({ air: { color, perM } }), { stage: "compose", label: "step.airMeasured" });
}

/** Marks a place whose distance is known: at first as far as the ground or a surface is that shows there. */
export function markDistance(x: number, y: number): void {
  const { records } = useSession.getState();
  const [plate, size] = [plateNow(records), documentSize(records)];
  if (!plate || !size) return;
  const shown = sceneryOf(plate, size).at(x, y);
  const metres = shown ? Math.hypot(shown.place[0], shown.place[1] - plate.heightM, shown.place[2]) : FAR_M;
  const mark = { x: Math.round(x), y: Math.round(y), distanceM: Math.round(10 * Math.min(FAR_M, metres)) / 10 };
  edit(tellPlate({ hazeMarks: [...(plate.hazeMarks ?? []), mark] }), { stage: "compose", label: "step.distanceMarked" });
}

/** Takes the haze that was measured away from the plate. */
export function clearAirOf(layerName: string): boolean {
  const air = plateOf(useSession.getState().records)?.air;
  return air !== undefined && edit(clearPlate(air, layerName), { stage: "compose", label: "step.airCleared" });
}

/** Gives a thing the haze of where it stands. @param layerName of the layer that is laid on it */
export function hazeThing(seat: SeatRecord, layerName: string): boolean {
  const { records } = useSession.getState();
  const air = airNow(records);
  if (!air) return false;
  return edit(layHaze(seat.layerId, air, layerName), {
    stage: "compose",
    label: message("step.hazeLaid", { name: layerOf(records, seat.layerId)?.name ?? "" }),
  });
}
