import { sentence } from "../messages/sentence";
import { message, ToldError } from "../messages/message";
import { readFileSync } from "node:fs";
import { addFrames, setMeasuredExposures, startJob, takeStep } from "../document/edits";
import type { FrameRecord, Records } from "../document/records/types";
import type { History } from "../document/history";
import { framesOf } from "../document/selectors";
import type { Task } from "../engine/task";
import type { NodeEngine } from "./createNodeEngine";

export interface Gathered {
  history: History;
  records: Records;
  /** per file as given: its frame, or why it was not read */
  files: { path: string; frame: FrameRecord | null; error: string | null }[];
}

/** Reads files into a new job, as the Gather stage does. One bad file never stops the rest. */
export async function gatherFiles(node: NodeEngine, name: string, paths: string[], task: Task): Promise<Gathered> {
  const at = new Date().toISOString();
  let state = startJob(name, at);
  const imported: { path: string; error: string | null; index: number | null }[] = [];
  const frames = [];
  for (const path of paths) {
    try {
      const bytes = bytesOf(path);
      const frame = await node.ask("importFrame", { fileName: path.split("/").pop()!, bytes }, task);
      node.sources.set(frame.sourceId, async () => bytesOf(path));
      imported.push({ path, error: null, index: frames.length });
      frames.push(frame);
    } catch (error) {
      imported.push({ path, error: sentenceOf(error), index: null });
    }
  }
  if (frames.length) {
    state = takeStep(state.history, state.records, addFrames(frames), { stage: "gather", label: message("step.gathered", { count: frames.length }) }, at);
    const measured = await node.ask("measureExposures", { frames: framesOf(state.records) });
    state = takeStep(state.history, state.records, setMeasuredExposures(measured), { stage: "gather", label: "step.exposuresMeasured" }, at);
  }
  const records = framesOf(state.records);
  return { ...state, files: imported.map(({ path, error, index }) => ({ path, error, frame: index === null ? null : records[index] })) };
}

/** Without a copy: a file may take as much as there is. */
function bytesOf(path: string): Uint8Array {
  const { buffer, byteOffset, byteLength } = readFileSync(path);
  return new Uint8Array(buffer, byteOffset, byteLength);
}

/** One sentence for people, whatever was thrown. */
export function sentenceOf(error: unknown): string {
  if (error instanceof ToldError) return sentence(error.told);
  const code = (error as NodeJS.ErrnoException | null)?.code;
  if (code === "ENOENT") return "The file does not exist.";
  if (code === "EISDIR") return "This is a folder, not a file.";
  if (code === "EACCES") return "The file may not be read.";
  return error instanceof Error ? error.message : String(error);
}
