import { message } from "../messages/message";
import type { Rectangle } from "../core/geometry/rectangle";
import { newId } from "../document/edits";
import type { PartLook, SwapRecord } from "../document/records/swapTypes";
import type { FrameRecord, Records } from "../document/records/types";
import { documentSize, frameNumber, framesOfSet, mergeOf, registrationOf, swapsOf, workingSetIdOf } from "../document/selectors";
import { pictureIdOf } from "../document/sourceIds";
import { addSwap, beginPart, leavePart, rankedLooks, removeSwap, soundBox, takenFrom, takePart, updateSwap } from "../document/swapEdits";
import { edit, openJob } from "./openJob";
import { notify, useSession } from "./store";

/** The frames of the set that a part can come from. */
export const framesToSwap = (records: Records): FrameRecord[] => framesOfSet(records, workingSetIdOf(records)).filter((f) => !f.excluded);

/** The frame whose px those of the picture are. */
const pointedAt = (records: Records): FrameRecord | undefined => {
  const id = registrationOf(records)?.referenceId;
  return framesOfSet(records, workingSetIdOf(records)).find((f) => f.id === id);
};

/** What a part derives from besides itself. */
const madeFrom = (swapId: string, frameId: string) => (r: Records) => {
  const frame = r[frameId];
  return [r[swapId], mergeOf(r), registrationOf(r)?.placements.map((p) => p.matrix), frame?.kind === "frame" && [pictureIdOf(frame), frame.development]];
};

/** What every frame shows in a box of the picture; null where it was stopped. */
async function lookIn(records: Records, box: Rectangle): Promise<PartLook[] | null> {
  const pointed = pointedAt(records);
  if (!pointed) return null;
  const job = openJob();
  const ranking = await job.run("compose", "task.ranking", (signal, onProgress) =>
    job.ask("rankFrames", { frames: framesToSwap(records), pointed, place: box }, { signal, onProgress }),
  );
  return (
    ranking && ranking.frames.map(({ frameId, sharpness, lightEv, clipped, covered, found }) => ({ frameId, sharpness, lightEv, clipped, covered, found }))
  );
}

/** What looks derive from. */
const lookedAt = (r: Records) => [registrationOf(r)?.referenceId, framesToSwap(r).map((f) => [pictureIdOf(f), f.development])];

/** Draws a part: what every frame shows there is looked at. @returns its id, or null where it was not drawn */
export async function drawPart(drawn: Rectangle, name: string): Promise<string | null> {
  const { records } = useSession.getState();
  const size = documentSize(records);
  const box = size && soundBox(drawn, size);
  if (!box) {
    notify("swap.smallBox");
    return null;
  }
  const job = openJob();
  const looks = await lookIn(records, box);
  if (!looks) return null;
  const id = newId("swap");
  return job.apply(records, lookedAt, addSwap({ id, name, box, looks }), { stage: "compose", label: message("step.swapDrawn", { name }) }) ? id : null;
}

/** Gives a part another box; where it is taken from a frame it is fitted anew. */
export async function reshapePart(swap: SwapRecord, drawn: Rectangle): Promise<void> {
  const { records } = useSession.getState();
  const size = documentSize(records);
  const box = size && soundBox(drawn, size);
  if (!box) return notify("swap.smallBox");
  const job = openJob();
  const looks = await lookIn(records, box);
  if (!looks) return;
  const label = message("step.swapDrawn", { name: swap.name });
  if (job.apply(records, lookedAt, updateSwap(swap.id, { box, looks }), { stage: "compose", label })) await fitAgain(swap.id);
}

/** A part that is taken from a frame is fitted as it is told by now. */
async function fitAgain(id: string): Promise<void> {
  const { records } = useSession.getState();
  const swap = swapsOf(records).find((s) => s.id === id);
  const frameId = swap && takenFrom(records, swap);
  if (swap && frameId) await takeFrom(swap, frameId);
}

/** Takes a part from a frame, fitted by its joint and joined where it shows least; null: it is left as it is. @returns whether nobody stopped it */
export async function takeFrom(swap: SwapRecord, frameId: string | null): Promise<boolean> {
  const { name } = swap;
  if (frameId === null) {
    edit(leavePart(swap.id), { stage: "compose", label: message("step.swapLeft", { name }) });
    return true;
  }
  const { records } = useSession.getState();
  const { layerId, edit: begin } = beginPart(swap, frameId);
  const job = openJob();
  let stopping: AbortSignal | null = null;
  const part = await job.run("compose", "task.registering", (signal, onProgress) => {
    stopping = signal;
    return job.ask("fitPart", { records: begin(records), layerId, box: swap.box, joint: swap.joint }, { signal, onProgress });
  });
  if (!part) return !(stopping as AbortSignal | null)?.aborted;
  job.apply(records, madeFrom(swap.id, frameId), takePart(swap.id, frameId, part.content, part.cells), {
    stage: "compose",
    label: message("step.swapTaken", { name, number: frameNumber(records, frameId) }),
  });
  return true;
}

/** Says what of a part has to fit; where it is taken from a frame it is fitted anew. Null: what lies around its box. */
export async function drawJoint(swap: SwapRecord, drawn: Rectangle | null): Promise<void> {
  const { records } = useSession.getState();
  const size = documentSize(records);
  const joint = drawn && size && soundBox(drawn, size);
  if (drawn && !joint) return notify("swap.smallBox");
  const label = joint ? message("step.jointDrawn", { name: swap.name }) : message("step.jointGone", { name: swap.name });
  if (edit(updateSwap(swap.id, { joint }), { stage: "compose", label })) await fitAgain(swap.id);
}

/** Takes every part from the frame that is best there, one after the other, until that is stopped; those that were taken already stay. */
export async function takeBest(): Promise<void> {
  for (const { id } of swapsOf(useSession.getState().records)) {
    const { records } = useSession.getState();
    const swap = swapsOf(records).find((s) => s.id === id);
    const best = swap && rankedLooks(records, swap).order[0];
    if (!swap || !best || takenFrom(records, swap) !== null || best.frameId === builtOn(records)) continue;
    if (!(await takeFrom(swap, best.frameId))) return;
  }
}

export function dropPart({ id, name }: SwapRecord): void {
  edit(removeSwap(id), { stage: "compose", label: message("step.swapDropped", { name }) });
}

/** The frame that the picture is built on, from which a part is taken by leaving it as it is; null where it is merged of several. */
export function builtOn(records: Records): string | null {
  const merge = mergeOf(records);
  return merge?.method === "base" ? (merge.baseId ?? pointedAt(records)?.id ?? null) : null;
}
