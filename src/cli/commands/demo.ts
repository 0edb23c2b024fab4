import { listedDemos } from "../../server/demos";
import { join } from "node:path";
import { writeJobFile } from "../../storage/jobFile";
import { DOCUMENT_VERSION } from "../../document/migrations/migrations";
import { createNodeEngine } from "../createNodeEngine";
import { gatherFiles } from "../gatherFiles";
import { progressTask, report, ROOT, type Options, threadsOf } from "../options";
import { UsageError } from "../UsageError";
import { writeParts } from "../writeParts";

/** Lists the demo jobs, or writes one as a job file with its frames gathered. */
export async function demo(args: string[], options: Options): Promise<number> {
  const folder = join(ROOT, "demo");
  const jobs = await listedDemos(folder);
  if (options.list || args.length === 0) {
    report(
      options,
      { version: 1, jobs: jobs.map(({ id, name, kind, files }) => ({ id, name, kind, frames: files.length })) },
      jobs.map((j) => `${j.id}: ${j.name}, ${j.kind}, ${j.files.length} frames`),
    );
    return 0;
  }
  const job = jobs.find((j) => j.id === args[0]);
  if (!job) throw new UsageError(`There is no demo job "${args[0]}". See marsh demo --list.`);
  if (!options.output) throw new UsageError("demo needs -o FILE.marsh.");
  const node = await createNodeEngine(ROOT, undefined, threadsOf(options));
  const gathered = await gatherFiles(
    node,
    job.name,
    job.files.map((f) => join(folder, f)),
    progressTask(options),
  );
  const parts: Uint8Array[] = [];
  await writeJobFile({ version: DOCUMENT_VERSION, id: `demo-${job.id}`, history: gathered.history }, node.ctx.loadSource, (p) => parts.push(p));
  writeParts(options.output, parts);
  report(options, { version: 1, output: options.output, frames: job.files.length }, [`${options.output}: ${job.name}, ${job.files.length} frames`]);
  return 0;
}
