import { message } from "../messages/message";
import { lampRadiusPx, type LampKind } from "../core/light/lamp";
import { addLamp, changeLamp, freshLamp, lampsOf, layGlow, layRelight } from "../document/lampEdits";
import { ownLight, ratioThere } from "../document/lampSight";
import type { PlateLamp, SeatRecord } from "../document/records/plateTypes";
import type { Records } from "../document/records/types";
import { documentSize, layerOf, mergeOf, plateOf } from "../document/selectors";
import { plateFrame, plateNow, tellPlate } from "../document/seatEdits";
import { cameraOf, standsAt } from "../document/seatGeometry";
import { pictureIdOf } from "../document/sourceIds";
import { edit, openJob } from "./openJob";
import { notify, useSession } from "./store";

/** What is measured of lamps depends on that. */
const lookedAt = (r: Records) => {
  const frame = plateFrame(r);
  return [plateOf(r), mergeOf(r), frame && [pictureIdOf(frame), frame.development]];
};

/** What is measured of the ground depends on that, whatever is said of lamps meanwhile. */
const groundLookedAt = (r: Records) => {
  const [plate, [, merge, frame]] = [plateOf(r), lookedAt(r)];
  return [plate?.stance, plate?.heightM, plate?.surfaces, merge, frame];
};

/** Marks a lamp, by its middle and its rim. @returns its id, or null */
export function markLamp(is: LampKind, x: number, y: number, radiusPx: number | null): string | null {
  const { records } = useSession.getState();
  const [plate, size] = [plateNow(records), documentSize(records)];
  if (!plate || !size) return null;
  const lamp = freshLamp(plate, size, is, x, y, radiusPx, true);
  if (!edit(addLamp(lamp), { stage: "compose", label: "step.lampMarked" })) return null;
  if (plate.ambientEv === undefined) void measureAmbient();
  return lamp.id;
}

/** Takes the light of all else from the plate's ground, where nobody said it yet; a lamp whose strength nobody changed meanwhile is as strong against it as it was. */
async function measureAmbient(): Promise<void> {
  const { records } = useSession.getState();
  const known = new Map(lampsOf(plateOf(records)).map((l) => [l.id, l.ev]));
  const job = openJob();
  const ambientEv = await job.run("compose", "task.looking", (signal, onProgress) => job.ask("ambientLight", { records }, { signal, onProgress }));
  if (ambientEv === undefined || ambientEv === null) return;
  const change = (r: Records) => {
    const plate = plateOf(r);
    if (!plate || plate.ambientEv !== undefined) return r;
    return tellPlate({ ambientEv, lamps: lampsOf(plate).map((l) => (known.get(l.id) === l.ev ? { ...l, ev: l.ev + ambientEv } : l)) })(r);
  };
  job.apply(records, groundLookedAt, change, { stage: "compose", label: "step.ambientMeasured" });
}

/** Looks for what shines in the plate, and for the light of all else there; what is marked already stays. */
export async function findLamps(): Promise<void> {
  const { records } = useSession.getState();
  const [plate, size] = [plateNow(records), documentSize(records)];
  if (!plate || !size) return;
  const job = openJob();
  const found = await job.run("compose", "task.looking", (signal, onProgress) => job.ask("findLamps", { records }, { signal, onProgress }));
  if (!found) return;
  const told = { ...plate, ambientEv: plate.ambientEv ?? found.ambientEv };
  const camera = cameraOf(plate, size);
  const known = lampsOf(plate);
  const isKnown = ({ x, y, radius }: { x: number; y: number; radius: number }) =>
    known.some((l) => Math.hypot(l.x - x, l.y - y) < Math.max(radius, lampRadiusPx(camera, l)));
  const added = found.lamps.filter((l) => !isKnown(l)).map(({ x, y, radius }) => freshLamp(told, size, "lamp", x, y, radius, false));
  if (added.length === 0) notify("plate.noLamps");
  if (added.length === 0 && plate.ambientEv !== undefined) return;
  const change = tellPlate({ ambientEv: told.ambientEv, lamps: [...known, ...added] });
  job.apply(records, lookedAt, change, { stage: "compose", label: message("step.lampsFound", { count: added.length }) });
}

/** Takes the strength of a lamp that the plate shows from the ground around it; where that does not tell, it is said and nothing changes. */
export async function measureStrength(lamp: PlateLamp): Promise<void> {
  const { records } = useSession.getState();
  const job = openJob();
  let isDone = false;
  const told = await job.run("compose", "task.looking", async (signal, onProgress) => {
    const figures = await job.ask("lampStrength", { records, lampId: lamp.id }, { signal, onProgress });
    isDone = true;
    return figures;
  });
  if (!told) {
    if (isDone) notify("plate.lampTellsNothing");
    return;
  }
  const change = (r: Records) => tellPlate({ ambientEv: told.ambientEv })(changeLamp(lamp.id, { ev: told.ev })(r));
  job.apply(records, lookedAt, change, { stage: "compose", label: "step.lampMeasured" });
}

/** Lays the glow around a lamp, as the plate's own lamps show it, else as a lens has it. */
export async function throwGlow(lamp: PlateLamp, layerName: string): Promise<void> {
  const { records } = useSession.getState();
  const job = openJob();
  let isDone = false;
  const told = await job.run("compose", "task.looking", async (signal, onProgress) => {
    const spread = await job.ask("lampGlow", { records, lampId: lamp.id }, { signal, onProgress });
    isDone = true;
    return spread;
  });
  if (!isDone) return;
  job.apply(records, lookedAt, layGlow(lamp.id, told, layerName), { stage: "compose", label: "step.glowLaid" });
}

/** Turns the light on what is seated to the plate's; where its outline tells no light of its own, it is taken for even, and that is said. @param toRatioEv light over shade of the plate, where that is measured */
export async function turnLight(seat: SeatRecord, toRatioEv: number | null, layerName: string): Promise<void> {
  const { records } = useSession.getState();
  const [plate, size] = [plateOf(records), documentSize(records)];
  const foot = plate && size && standsAt(plate, size, seat);
  const name = layerOf(records, seat.layerId)?.name ?? "";
  if (!foot) return;
  const job = openJob();
  let isDone = false;
  const own = await job.run("compose", "task.looking", async (signal, onProgress) => {
    const told = await job.ask("outlineLight", { records, layerId: seat.layerId }, { signal, onProgress });
    isDone = true;
    return told;
  });
  if (!isDone) return;
  if (!own) notify("plate.ownLightTellsNothing");
  const change = layRelight(seat.layerId, { ...ownLight(foot, own), toRatioEv: ratioThere(toRatioEv) }, layerName);
  const asked = (r: Records) => [r[seat.id], lookedAt(r)];
  job.apply(records, asked, change, { stage: "compose", label: message("step.lightTurned", { name }) });
}
