import { message } from "../../../messages/message";
import type { QuarterTurns } from "../../../core/raster/orientation";
import type { NewFrame, TurnedFrame } from "../../../document/edits";
import type { FrameRecord } from "../../../document/records/types";
import { pictureIdOf } from "../../../document/sourceIds";
import type { EngineContext } from "../../EngineContext";
import { sha256 } from "../../graph/keys";
import type { Task } from "../../task";
import { deadlineOf } from "../../pool/deadline";
import { keepGrey } from "../frames/greyCache";
import { sourceKey, storePlanes } from "../frames/sources";

export type ImportedFrame = NewFrame;

/** Decodes, measures and stores one picture file. @throws FormatError with one sentence for people */
export async function importFrame(ctx: EngineContext, fileName: string, bytes: Uint8Array, task: Task): Promise<ImportedFrame> {
  const reading = message("task.reading", { name: fileName });
  await task.step(0, 4, reading);
  const sourceId = await sha256(bytes);
  const read = await ctx.pool.run("readFrame", { bytes, quarterTurns: 0 }, () => task.step(1, 4, reading), deadlineOf(bytes));
  await task.step(3, 4, message("task.keeping", { name: fileName }));
  await ctx.cache.makeOnce(sourceKey(sourceId), () => storePlanes(ctx, sourceId, read));
  const { grey, facts, format, alphaKind: alpha, width, height, bits, colorName, measures, notes } = read;
  keepGrey(ctx, sourceId, grey);
  return { ...facts, sourceId, quarterTurns: 0, fileName, format, alpha, width, height, bits, colorName, measures, notes };
}

/** What a frame becomes by being turned: it is read and measured anew. @returns what changes of its record */
export async function turnFrame(ctx: EngineContext, frame: FrameRecord, quarterTurns: QuarterTurns, task: Task): Promise<TurnedFrame> {
  const pictureId = pictureIdOf({ ...frame, quarterTurns });
  const bytes = await ctx.loadSource(frame.sourceId);
  const read = await ctx.pool.run(
    "readFrame",
    { bytes, quarterTurns },
    () => task.step(0, 2, message("task.rotating", { name: frame.fileName })),
    deadlineOf(bytes),
  );
  await ctx.cache.makeOnce(sourceKey(pictureId), () => storePlanes(ctx, pictureId, read));
  keepGrey(ctx, pictureId, read.grey);
  return { quarterTurns, width: read.width, height: read.height, measures: read.measures };
}
