import type { NewFrame } from "../../../document/edits";
import type { EngineContext } from "../../EngineContext";
import { sha256 } from "../../graph/keys";
import type { Task } from "../../task";
import { deadlineOf } from "../../pool/deadline";
import { keepGrey } from "../frames/greyCache";
import { sourceKey, storePlanes } from "../frames/sources";

export type ImportedFrame = NewFrame;

/** Decodes, measures and stores one picture file. @throws FormatError with one sentence for people */
export async function importFrame(ctx: EngineContext, fileName: string, bytes: Uint8Array, task: Task): Promise<ImportedFrame> {
  await task.step(0, 4, `Reading ${fileName}`);
  const sourceId = await sha256(bytes);
  const read = await ctx.pool.run("readFrame", { bytes }, () => task.step(1, 4, `Reading ${fileName}`), deadlineOf(bytes));
  await task.step(3, 4, `Keeping ${fileName}`);
  await ctx.cache.makeOnce(sourceKey(sourceId), () => storePlanes(ctx, sourceId, read));
  const { grey, facts, format, width, height, bits, colorName, measures, notes } = read;
  keepGrey(ctx, sourceId, grey);
  return { ...facts, sourceId, fileName, format, width, height, bits, colorName, measures, notes };
}
