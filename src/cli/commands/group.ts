import { sentence } from "../../messages/sentence";
import { SET_WORDS } from "../../kinds/sets/words";
import { createNodeEngine } from "../createNodeEngine";
import { gatherFiles } from "../gatherFiles";
import { progressTask, report, ROOT, type Options, threadsOf } from "../options";
import { UsageError } from "../UsageError";

/** Groups files into sets, each with its kind, its reasons and a confidence. */
export async function group(files: string[], options: Options): Promise<number> {
  if (files.length === 0) throw new UsageError("group needs at least one file.");
  const node = await createNodeEngine(ROOT, undefined, threadsOf(options));
  const gathered = await gatherFiles(node, "group", files, progressTask(options));
  const read = gathered.files.flatMap((f) => (f.frame ? [f.frame] : []));
  const groups = read.length ? (await node.ask("gatherSets", { records: gathered.records, frames: read }, progressTask(options))).sets : [];
  const pathOf = (id: string) => gathered.files.find((f) => f.frame?.id === id)!.path;
  const sets = groups.map(({ kind, frameIds, reasons, confidence }) => ({ kind, files: frameIds.map(pathOf), reasons: reasons.map(sentence), confidence }));
  const unread = gathered.files.filter((f) => f.error).map((f) => ({ file: f.path, error: f.error }));
  report(options, { version: 1, sets, unread }, [
    ...sets.flatMap((s) => [`${SET_WORDS[s.kind].name}, ${s.files.length} frames: ${s.files.join(" ")}`, ...s.reasons.map((r) => `  ${r}`)]),
    ...unread.map((u) => `${u.file}: ${u.error}`),
  ]);
  return unread.length ? 1 : 0;
}
