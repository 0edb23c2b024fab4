import type { Lens } from "../core/geometry/lens";
import { setPlacement } from "../document/edits";
import type { FramePlacement } from "../document/records/types";
import { frameNumber } from "../document/selectors";
import type { PlacementWithCrop } from "../engine/Engine";
import type { Placing } from "../engine/operations/register/placements";
import { engine } from "./engine";
import { edit, notify, runTask, useSession } from "./session";

const { getState: get } = useSession;

function keep(result: PlacementWithCrop, how: string): void {
  const number = frameNumber(get().records, result.placement.frameId);
  edit(setPlacement(result.placement, result.proposedCrop), { stage: "register", label: `Frame ${number} ${how}` });
}

/** Makes a placement by hand the job's. */
export async function keepPlacing(frameId: string, placing: Placing): Promise<boolean> {
  const { records } = get();
  const result = await runTask("register", "Measuring", () => engine.call("describePlacement", { records, frameId, placing }));
  if (result) keep(result, "placed by hand");
  return result !== null;
}

/** Makes the placement that control points lead to the job's. */
export async function keepPoints(frameId: string, points: number[][], lens: Lens | null): Promise<boolean> {
  const { records } = get();
  const result = await runTask("register", "Measuring", () => engine.call("placeByPoints", { records, frameId, points, lens }));
  if (result) keep(result, `placed by ${points.length} control point${points.length === 1 ? "" : "s"}`);
  return result !== null;
}

/** Lets Marsh refine from where the frame was put. */
export async function refineFrom(frameId: string, placing: Placing): Promise<FramePlacement | null> {
  const { records } = get();
  const result = await runTask("register", "Refining", () => engine.call("refinePlacement", { records, frameId, placing }));
  if (result) keep(result, "refined from where it was put");
  else notify("Nothing near this placement agrees well enough to refine from. Put the frame closer, or set more control points.");
  return result?.placement ?? null;
}
