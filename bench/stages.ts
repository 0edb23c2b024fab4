/**
 * What each stage takes with all cores against one: `scripts/bench stages FILES…` (default: the doorway's frames enlarged to 24 MP). Wall and CPU time of
 * the whole process, medians of three where --thrice is given; the serial share is what the two runs tell by Amdahl's law.
 */
import { readFileSync } from "node:fs";
import { basename } from "node:path";
import { createNodeEngine, type NodeEngine } from "../src/cli/createNodeEngine";
import { MERGE_METHODS, type MergeMethod } from "../src/core/merge/mergeMethods";
import { addFrames, setMeasuredExposures, setRegistration, startJob } from "../src/document/edits";
import { FRESH_MERGE, setMerge, takeMerge } from "../src/document/mergeEdits";
import { proposeReference } from "../src/document/proposeReference";
import type { Records } from "../src/document/records/types";
import { activeFramesOf } from "../src/document/selectors";
import type { Task } from "../src/engine/task";

const files = process.argv.slice(2).filter((a) => !a.startsWith("--"));
const only = process.argv
  .find((a) => a.startsWith("--only="))
  ?.slice(7)
  .split(",");
const threads = Number(process.argv.find((a) => a.startsWith("--threads="))?.slice(10) ?? 0) || undefined;

const report: Record<string, { wall: number; cpu: number; parts: Record<string, number> }> = {};

/** Times work, and the parts of it by what it says it is doing. */
async function timed<T>(name: string, work: (task: Task) => Promise<T>): Promise<T> {
  const [wall, cpu] = [performance.now(), process.cpuUsage()];
  const parts: Record<string, number> = {};
  let [now, since] = ["", wall];
  const task: Task = {
    step: async (_done, _total, what) => {
      const at = performance.now();
      const plain = what.replace(/\S+\.\w+$/, "…");
      if (now) parts[now] = (parts[now] ?? 0) + at - since;
      [now, since] = [plain, at];
      await new Promise((go) => setImmediate(go));
    },
  };
  const result = await work(task);
  if (now) parts[now] = (parts[now] ?? 0) + performance.now() - since;
  const used = process.cpuUsage(cpu);
  report[name] = { wall: performance.now() - wall, cpu: (used.user + used.system) / 1000, parts };
  return result;
}

const wanted = (name: string) => !only || only.includes(name);

async function run(node: NodeEngine): Promise<void> {
  let records: Records = startJob("bench", "2026-01-01").records;
  const frames = await timed("gather", async (task) => {
    const sources = files.map((path) => ({ fileName: basename(path), bytes: new Uint8Array(readFileSync(path)) }));
    const out = await Promise.all(sources.map((s) => node.ask("importFrame", s, task)));
    out.forEach((f, i) => node.sources.set(f.sourceId, async () => sources[i].bytes));
    return out;
  });
  records = addFrames(frames)(records);
  const active = () => activeFramesOf(records);
  await timed("group", (task) => node.ask("gatherSets", { records, frames: active() }, task));
  records = setMeasuredExposures(await node.ask("measureExposures", { frames: active() }))(records);
  await timed("compare", (task) => node.ask("compareFrames", { records, frames: active() }, task));
  const reference = proposeReference(active()).frame;
  const request = { referenceId: reference.id, referenceReason: "", model: "auto" as const };
  const found = await timed("register", (task) => node.ask("register", { records, frames: active(), request }, task));
  records = setRegistration(found.registration, found.measuredEv)(records);
  for (const method of MERGE_METHODS.filter((m): m is MergeMethod => m !== "panorama" && wanted(m))) {
    const draft = { ...FRESH_MERGE, method };
    const facts = await timed(method, (task) => node.ask("merge", { records: setMerge(draft)(records), method }, task));
    if (method === "radiance" || !wanted("radiance")) records = takeMerge(draft, facts)(records);
  }
  if (wanted("export")) {
    const settings = { format: "tiff16" as const, quality: 90, space: "srgb" as const, content: "finished" as const, crop: true };
    await timed("export", (task) => node.ask("exportPicture", { records, settings }, task));
  }
}

const node = await createNodeEngine(process.cwd(), undefined, threads);
await run(node);
process.stdout.write(JSON.stringify(report, (_k, v: unknown) => (typeof v === "number" ? Math.round(v) : v), 1) + "\n");
node.end();
