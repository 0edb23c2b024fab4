import { message, type Telling } from "../messages/message";
import type { ParityDifference } from "../core/measure/sets/parity";
import { setRecord } from "../kinds/sets/records";
import { proposeWhiteBalance, type WhiteBalance } from "../core/color/whiteBalance";
import type { QuarterTurns } from "../core/raster/orientation";
import { acceptDifference, developFrames, setMeasuredExposures, turnFrames, updateRecord, type TurnedFrame } from "../document/edits";
import { JOB_LIMITS } from "../document/limits";
import type { Development, FrameRecord, Records, SetRecord } from "../document/records/types";
import { activeFramesOf, exposuresOf, framesOf, regionsOf, registrationOf, workingSetOf } from "../document/selectors";
import { pictureIdOf } from "../document/sourceIds";
import { edit, openJob } from "./openJob";
import { notify, useSession } from "./store";

const get = () => useSession.getState();

/** Sets whose frames differ by their nature: another view, another focus, another thing. */

/** What registering and comparing depend on: the frames that take part, as they are developed, and what is marked on them. */
export const framesTaking = (r: Records) => [workingSetOf(r)?.id, activeFramesOf(r).map((f) => [f.id, pictureIdOf(f), f.development]), regionsOf(r)];

/** Measures what differs between the frames of the set worked on. */
export async function compareSet(): Promise<void> {
  const job = openJob();
  const asked = get().records;
  let records = asked;
  const set = workingSetOf(records);
  const frames = activeFramesOf(records);
  if (!set || frames.length < 2 || frames.length > JOB_LIMITS.framesOfSet || !setRecord(set.setKind).isComparable) return;
  const parity = await job.run("gather", "task.comparing", async (signal, onProgress) => {
    // frames may have come from another set, where they were measured against others
    if (!registrationOf(records)) records = setMeasuredExposures(await job.ask("measureExposures", { frames }, { signal }))(records);
    return job.ask("compareFrames", { records, frames }, { signal, onProgress });
  });
  if (!parity) return;
  const measuredEv = exposuresOf(records)?.measuredEv ?? {};
  job.apply(
    asked,
    framesTaking,
    (r) => setMeasuredExposures(measuredEv)(updateRecord<SetRecord>(set.id, { parity })(r)),
    { stage: "gather", label: "step.compared" },
    { measure: false },
  );
}

/** What makes a difference go away: the development, or the registration that undoes it. */
export async function makeEqual(difference: ParityDifference): Promise<void> {
  const set = workingSetOf(get().records);
  if (!set) return;
  const { aspect, frames, geometric } = difference;
  const text = { stage: "gather", label: message("step.corrected", { aspect: message(`aspect.${aspect}`, {}), numbers: frames.map((f) => f.number) }) };
  const developEach = (changes: { frameId: string; change: Partial<Development> }[]) =>
    edit((r) => changes.reduce((all, { frameId, change }) => developFrames([frameId], change)(all), r), text);
  const turns = frames.flatMap(({ frameId, quarterTurns: by }) => {
    const frame = get().records[frameId];
    return frame?.kind === "frame" && by ? [{ frame, by }] : [];
  });
  if (aspect === "rotation" && turns.length === frames.length) await turn(turns);
  else if (aspect === "lens") developEach(frames.map(({ frameId, k1 = 0 }) => ({ frameId, change: { lens: { k1, k2: 0 } } })));
  else if (aspect === "tone") developEach(frames.map(({ frameId, tone = 1 }) => ({ frameId, change: { tone: 1 / tone } })));
  else if (aspect === "whiteBalance") {
    const balances = frames.map(({ frameId, balance }) => ({ frameId, change: balance && proposeWhiteBalance([2 ** balance.redEv, 1, 2 ** balance.blueEv]) }));
    if (balances.every((b): b is { frameId: string; change: WhiteBalance } => b.change != null)) developEach(balances);
    else notify("gathering.balanceTooFar");
  } else edit(acceptDifference(set.id, aspect, message(geometric ? "parity.registered" : "parity.left", {})), text);
}

/** A frame and the quarters it is turned by. */
export interface Turn {
  frame: FrameRecord;
  by: QuarterTurns;
}

const ROTATED = { 0: "step.rotated", 1: "step.rotatedRight", 2: "step.rotatedHalf", 3: "step.rotatedLeft" } as const;

/** Turns frames by quarters. They are read and measured anew; what was registered and marked on their sets goes. */
export async function turn(turns: Turn[]): Promise<void> {
  const job = openJob();
  const { records } = get();
  const wanted = turns.filter(({ by }) => by !== 0);
  if (wanted.length === 0) return;
  const [sets, ids] = [new Set(wanted.map(({ frame }) => frame.setId)), new Set(wanted.map(({ frame }) => frame.id))];
  const layersOn = (r: Records) =>
    Object.values(r).filter((l) => l.kind === "layer" && (sets.has(l.setId) || (l.content.type === "frame" && ids.has(l.content.frameId)))).length;
  if (layersOn(records) > 0) return notify("gathering.layersStand");
  const turned = await job.run("gather", "task.rotatingFrames", async (signal, onProgress) => {
    const read: Record<string, TurnedFrame> = {};
    for (const [i, { frame, by }] of wanted.entries()) {
      const quarterTurns = ((frame.quarterTurns + by) % 4) as QuarterTurns;
      const part = (share: number, what: Telling) => onProgress((i + share) / wanted.length, what);
      read[frame.id] = await job.ask("turnFrame", { frame, quarterTurns }, { signal, onProgress: part });
    }
    return read;
  });
  if (!turned) return;
  const numbers = wanted.map(({ frame }) => framesOf(records).findIndex((f) => f.id === frame.id) + 1);
  const alike = new Set(wanted.map(({ by }) => by)).size === 1 ? wanted[0].by : 0;
  const applied = job.apply(records, (r) => [layersOn(r), framesOf(r).map((f) => [f.id, pictureIdOf(f)])], turnFrames(turned), {
    stage: "gather",
    label: message(ROTATED[alike], { numbers }),
  });
  if (applied) await compareSet();
}
