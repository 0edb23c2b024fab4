import type { FoundLamp } from "../../../core/light/findLamps";
import type { MeasuredSpread } from "../../../core/light/glow";
import type { SkyFigures } from "../../../core/light/skyFigures";
import { lampsOf } from "../../../document/lampEdits";
import { plateNow } from "../../../document/seatEdits";
import type { FrameRecord, Records } from "../../../document/records/types";
import { plateOf } from "../../../document/selectors";
import type { EngineContext } from "../../EngineContext";
import type { Task } from "../../task";
import { barePlate } from "../seat/barePlate";
import { measureBlur, type EdgeBlur } from "./measureBlur";
import { measureSky } from "./measureSky";
import { ambientOf, glowIn, lampsIn, strengthIn } from "./measureLamps";

export const lightRequests = {
  /** What of a plate is far brighter than what surrounds it, px, and the light of all else on a white surface there, EV over white. */
  findLamps: async (ctx: EngineContext, p: { records: Records }, task: Task): Promise<{ lamps: FoundLamp[]; ambientEv: number }> => {
    const bare = await barePlate(ctx, p.records, task);
    const plate = plateNow(p.records);
    return { lamps: lampsIn(bare), ambientEv: plate ? ambientOf(bare, plate) : 0 };
  },
  /** The light of all but lamps on a white surface of the plate, EV over white; null without a plate. */
  ambientLight: async (ctx: EngineContext, p: { records: Records }, task: Task): Promise<number | null> => {
    const plate = plateNow(p.records);
    return plate && ambientOf(await barePlate(ctx, p.records, task), plate);
  },
  /** How far light spreads around a lamp in the plate: around itself where the plate shows it, else around the first of the others that tells; null where none does. */
  lampGlow: async (ctx: EngineContext, p: { records: Records; lampId: string }, task: Task): Promise<(MeasuredSpread & { lampId: string }) | null> => {
    const plate = plateOf(p.records);
    const shown = lampsOf(plate).filter((l) => !l.isAdded);
    const own = shown.filter((l) => l.id === p.lampId);
    if (!plate || shown.length === 0) return null;
    const bare = await barePlate(ctx, p.records, task);
    for (const lamp of own.length ? own : shown) {
      const told = glowIn(bare, plate, lamp);
      if (told) return { ...told, lampId: lamp.id };
    }
    return null;
  },
  /** How wide edges are of the plate where a thing stands, and of the thing, px; null where it stands on nothing. */
  measureBlur: (ctx: EngineContext, p: { records: Records; seatId: string }, task: Task): Promise<EdgeBlur | null> =>
    measureBlur(ctx, p.records, p.seatId, task),
  /** What a frame shows of its sky, px of the frame; null where it shows none. */
  measureSky: async (ctx: EngineContext, p: { frame: FrameRecord }, task: Task): Promise<SkyFigures | null> => {
    await task.step(0, 1, "task.looking");
    return measureSky(ctx, p.frame);
  },
  /** How strong a lamp is that the plate shows, and all else, by the ground around it; null where that does not tell. */
  lampStrength: async (ctx: EngineContext, p: { records: Records; lampId: string }, task: Task): Promise<{ ev: number; ambientEv: number } | null> => {
    const plate = plateOf(p.records);
    const lamp = lampsOf(plate).find((l) => l.id === p.lampId);
    return plate && lamp ? strengthIn(await barePlate(ctx, p.records, task), plate, lamp) : null;
  },
};
