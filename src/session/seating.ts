import { message } from "../messages/message";
import type { KnownFocal } from "../core/seat/fitStance";
import type { ShadowMark } from "../core/seat/lightFromShadows";
import type { Surface, SurfaceKind } from "../core/seat/scenery";
import { stanceByLines, type DrawnLine } from "../core/seat/stanceByLines";
import { newId } from "../document/edits";
import type { LayerRecord } from "../document/records/layerTypes";
import type { PlateRecord, SeatRecord } from "../document/records/plateTypes";
import type { Records } from "../document/records/types";
import { documentSize, layerOf, mergeOf, plateOf, registrationOf } from "../document/selectors";
import { addSeat, changeSeat, notedFocal, plateFrame, plateNow, tellPlate } from "../document/seatEdits";
import { lightAt, lightOf, sceneryOf, sourceOf } from "../document/seatGeometry";
import { layReflection } from "../document/reflectionEdits";
import { CLEAR_EV, layShadow, type ShadowNames, type Thrown } from "../document/shadowEdits";
import { pictureIdOf } from "../document/sourceIds";
import { edit, openJob } from "./openJob";
import { notify, useSession } from "./store";

/** Whether things can be seated: in a picture of one view, whose px are those of a frame. */
export const canSeat = (records: Records): boolean =>
  mergeOf(records) !== undefined && mergeOf(records)?.method !== "panorama" && plateFrame(records) !== undefined;

/** How far least squares may move a focal length that a person said, a share. */
const SAID = 1e-4;

/** What found lines depend on, and what they would be laid over. */
const lookedAt = (r: Records) => {
  const frame = plateFrame(r);
  return [registrationOf(r)?.referenceId, frame && [pictureIdOf(frame), frame.development], plateOf(r)];
};

/** What is known of the lens, whatever lines say. */
function focalOf(records: Records, plate: PlateRecord | null): KnownFocal | null {
  // what the person said stays as it was said
  if (plate?.focalBy === "hand") return { px: plate.stance.focalPx, sigma: SAID };
  const frame = plateFrame(records);
  return frame ? notedFocal(frame) : null;
}

/** Looks for the plate's horizon by its straight lines; where they do not tell, that is said and nothing changes. */
export async function findPlateLines(): Promise<void> {
  const { records } = useSession.getState();
  const frame = plateFrame(records);
  const plate = plateNow(records);
  if (!frame || !plate) return;
  const job = openJob();
  const focal = focalOf(records, plate);
  let isDone = false;
  const found = await job.run("compose", "task.lines", async (signal, onProgress) => {
    const result = await job.ask("findPlate", { frame, focal }, { signal, onProgress });
    isDone = true;
    return result;
  });
  if (!found) {
    if (isDone) notify("plate.noLines");
    return;
  }
  const focalBy: PlateRecord["focalBy"] =
    plate.focalBy === "hand" ? "hand" : ({ known: "metadata", directions: "directions", guess: "guess" } as const)[found.focalFrom];
  const change = {
    stance: found.stance,
    horizonBy: "found" as const,
    horizonSigmaDeg: found.horizonSigmaDeg,
    focalSigma: focalBy === "hand" ? plate.focalSigma : found.focalSigma,
    focalBy,
    vanishing: found.vanishing,
  };
  job.apply(records, lookedAt, tellPlate(change), { stage: "compose", label: "step.horizonFound" });
}

/** Looks how the camera stood that took what is seated, by the straight lines of its own picture; where they do not tell, that is said and nothing changes. */
export async function findSource(seat: SeatRecord): Promise<void> {
  const { records } = useSession.getState();
  const frame = sourceOf(records, seat);
  if (!frame) return;
  const job = openJob();
  let isDone = false;
  const found = await job.run("compose", "task.lines", async (signal, onProgress) => {
    const result = await job.ask("findPlate", { frame, focal: notedFocal(frame) }, { signal, onProgress });
    isDone = true;
    return result;
  });
  if (!found) {
    if (isDone) notify("plate.sourceTellsNothing");
    return;
  }
  const from = (r: Records) => {
    const now = sourceOf(r, seat);
    return [r[seat.id] !== undefined, now && [pictureIdOf(now), now.development]];
  };
  job.apply(records, from, changeSeat(seat.id, { seenFrom: found.stance }), { stage: "compose", label: "step.sourceFound" });
}

/** The plate's lines as a person draws them: the horizon follows from those that are level or upright. */
export function drawLines(lines: DrawnLine[]): void {
  const { records } = useSession.getState();
  const [plate, size] = [plateNow(records), documentSize(records)];
  if (!plate || !size) return;
  const focal = focalOf(records, plate) ?? { px: plate.stance.focalPx, sigma: plate.focalSigma };
  const told = stanceByLines(lines, size, plate.stance, focal);
  const isTold = lines.some((l) => l.is !== "length" && l.is !== "height");
  if (isTold && !told && lines.length > plate.lines.length) notify("plate.linesTellNothing");
  const follows = told ? { stance: told.stance, horizonBy: "lines" as const, horizonSigmaDeg: told.horizonSigmaDeg, vanishing: [] } : {};
  edit(tellPlate({ lines, ...follows }), { stage: "compose", label: "step.plateLines" });
}

/** Marks a thing and its shadow; what marks say of the light is said where they say nothing. */
export function markShadows(shadows: ShadowMark[]): void {
  const { records } = useSession.getState();
  const plate = plateNow(records);
  const size = documentSize(records);
  if (!plate || !size) return;
  if (!edit(tellPlate({ shadows, light: null, overcast: false }), { stage: "compose", label: "step.shadowsMarked" })) return;
  const told = lightOf({ ...plate, shadows, light: null, overcast: false }, size);
  if (shadows.length > plate.shadows.length && typeof told === "string" && told !== "overcast" && told !== "tooFew") notify(WHY_NOT[told]);
}

/** How high things of a kind are until it is said, metres. Common practice, no source. */
const USUAL_M: Record<SurfaceKind, number> = { raised: 0.45, wall: 2, water: 0 };

/** Marks something of the plate that is not its ground; where it could not be there, that is said and nothing changes. */
export function markSurface(is: SurfaceKind, places: Surface["places"]): void {
  const { records } = useSession.getState();
  const [plate, size] = [plateNow(records), documentSize(records)];
  if (!plate || !size) return;
  const surfaces = [...(plate.surfaces ?? []), { id: newId("surface"), is, places, heightM: USUAL_M[is] }];
  if (sceneryOf({ ...plate, surfaces: surfaces.slice(-1) }, size).stood.length === 0) notify("plate.surfaceInSky");
  else edit(tellPlate({ surfaces }), { stage: "compose", label: "step.surfaceMarked" });
}

/** The light comes from where the sun is seen in the picture. */
export function markSun(x: number, y: number): void {
  const { records } = useSession.getState();
  const [plate, size] = [plateNow(records), documentSize(records)];
  const light = plate && size && lightAt(plate, size, x, y);
  if (!light) notify("plate.sunUnderHorizon");
  else edit(tellPlate({ light: { ...light, by: "sun" }, overcast: false }), { stage: "compose", label: "step.sunMarked" });
}

/** Takes the light from the shading of something round; where that does not tell, it is said and nothing changes. @param middle @param rim px */
export async function markBall(middle: [number, number], rim: [number, number]): Promise<void> {
  const { records } = useSession.getState();
  const frame = plateFrame(records);
  const plate = plateNow(records);
  if (!frame || !plate) return;
  const job = openJob();
  let isDone = false;
  const found = await job.run("compose", "task.looking", async (signal, onProgress) => {
    const { stance, heightM } = plate;
    const radius = Math.hypot(rim[0] - middle[0], rim[1] - middle[1]);
    const told = await job.ask("ballLight", { frame, stance, heightM, middle, radius }, { signal, onProgress });
    isDone = true;
    return told;
  });
  if (!found || found === "even") {
    if (isDone) notify(found === "even" ? "plate.ballEven" : "plate.ballTellsNothing");
    return;
  }
  const { sigmaDeg, ...towards } = found;
  job.apply(records, lookedAt, tellPlate({ light: { ...towards, sigmaDeg, by: "ball" }, overcast: false }), { stage: "compose", label: "step.ballMarked" });
}

/** Why shadows tell no light. */
export const WHY_NOT = {
  tooFew: "shadows.tooFew",
  tipOffGround: "shadows.tipOffGround",
  topUnderFoot: "shadows.topUnderFoot",
  contradict: "shadows.contradict",
} as const;

/** Seats what a layer shows, by its lowest and its highest place. @returns the seat's id, or null where nothing was seated */
export async function seatLayer(layer: LayerRecord): Promise<string | null> {
  const { records } = useSession.getState();
  const size = documentSize(records);
  const plate = plateNow(records);
  if (layer.content.type !== "frame" || !size || !plate) return null;
  const job = openJob();
  const own = await job.run("compose", "task.looking", (signal, onProgress) => job.ask("standsAt", { records, layerId: layer.id }, { signal, onProgress }));
  if (!own) return null;
  const id = newId("seat");
  const from = (r: Records) => {
    const content = layerOf(r, layer.id)?.content;
    return content?.type === "frame" ? [content.frameId, content.cut] : [];
  };
  // a third of the way up the ground that the picture shows
  const foot = { x: (size.width - 1) / 2, y: Math.round(size.height - 1 - (size.height - 1 - horizonY(plate, size)) / 3) };
  const isSeated = job.apply(records, from, addSeat(layer.id, own, foot, id), { stage: "compose", label: message("step.seated", { name: layer.name }) });
  return isSeated ? id : null;
}

/** Height of the horizon in the middle of the picture, px; no higher than its top and no lower than three quarters of it. */
function horizonY({ stance }: PlateRecord, { height }: { height: number }): number {
  const y = (height - 1) / 2 + (stance.focalPx * Math.tan((stance.pitchDeg * Math.PI) / 180)) / Math.cos((stance.rollDeg * Math.PI) / 180);
  return Math.min(0.75 * height, Math.max(0, y));
}

/** Lays the shadow of what is seated under it, as strong as the plate's own, and only where the plate is not in the shade already. */
export async function throwShadow(seat: SeatRecord, thrown: Thrown | null, names: ShadowNames): Promise<void> {
  const { records } = useSession.getState();
  const name = layerOf(records, seat.layerId)?.name ?? "";
  const job = openJob();
  let isDone = false;
  const lit = await job.run("compose", "task.looking", async (signal, onProgress) => {
    const found = await job.ask("litGround", { records, seatId: seat.id, ratioEv: thrown?.ratioEv ?? CLEAR_EV }, { signal, onProgress });
    isDone = true;
    return found;
  });
  if (!isDone) return;
  const from = (r: Records) => {
    const frame = plateFrame(r);
    return [r[seat.id], plateOf(r), mergeOf(r), frame && [pictureIdOf(frame), frame.development]];
  };
  job.apply(records, from, layShadow(seat.id, thrown, names, lit ?? null), { stage: "compose", label: message("step.shadowLaid", { name }) });
}

/** Ripples of water that mirrors nothing by which they could be measured, RMS of their slope each way: wind of 1 m/s. @see Cox and Munk 1954 */
const CALM_SLOPE = 0.06;

/** Lays the mirror image of what is seated under it, as smeared as the plate's own. */
export async function throwReflection(seat: SeatRecord, layerName: string): Promise<void> {
  const { records } = useSession.getState();
  const name = layerOf(records, seat.layerId)?.name ?? "";
  const job = openJob();
  let isDone = false;
  const seen = await job.run("compose", "task.looking", async (signal, onProgress) => {
    const figures = await job.ask("waterUnder", { records, seatId: seat.id }, { signal, onProgress });
    isDone = true;
    return figures;
  });
  if (!isDone) return;
  if (!seen) {
    notify("plate.noWaterThere");
    return;
  }
  const from = (r: Records) => {
    const frame = plateFrame(r);
    return [r[seat.id], plateOf(r), mergeOf(r), frame && [pictureIdOf(frame), frame.development]];
  };
  const laid = layReflection(seat.id, { ...seen, slope: seen.slope ?? CALM_SLOPE }, layerName);
  job.apply(records, from, laid, { stage: "compose", label: message("step.reflectionLaid", { name }) });
}
