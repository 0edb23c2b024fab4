/**
 * What each stage takes with all cores against one: `scripts/bench stages FILES…`. Wall and CPU time in ms, three times each in turn, medians; the serial
 * share is what the two tell by Amdahl's law, with what it would mean for 8 and 16 cores. With --threads=N one run with N threads and its parts.
 */
import { written } from "../src/messages/message";
import { execFileSync } from "node:child_process";
import { readFileSync } from "node:fs";
import { availableParallelism } from "node:os";
import { basename } from "node:path";
import { createNodeEngine, type NodeEngine } from "../src/cli/createNodeEngine";
import { MERGE_METHODS, type MergeMethod } from "../src/kinds/merges/records";
import { addFrames, setMeasuredExposures, setRegistration, startJob } from "../src/document/edits";
import { freshMerge, setMerge, takeMerge } from "../src/document/mergeEdits";
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
      const plain = typeof what === "string" ? what : what.code;
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
  const request = { referenceId: reference.id, referenceReason: written(""), model: "auto" as const };
  const found = await timed("register", (task) => node.ask("register", { records, frames: active(), request }, task));
  records = setRegistration(found.registration, found.measuredEv)(records);
  for (const method of MERGE_METHODS.filter((m): m is MergeMethod => m !== "panorama" && wanted(m))) {
    const draft = freshMerge(method);
    const facts = await timed(method, (task) => node.ask("merge", { records: setMerge(draft)(records), method }, task));
    if (method === "radiance" || !wanted("radiance")) records = takeMerge(draft, facts)(records);
  }
  if (wanted("export")) {
    const settings = { format: "tiff16" as const, quality: 90, space: "srgb" as const, content: "finished" as const, crop: true };
    await timed("export", (task) => node.ask("exportPicture", { records, settings }, task));
  }
}

if (threads) {
  const node = await createNodeEngine(process.cwd(), undefined, threads);
  await run(node);
  process.stdout.write(JSON.stringify(report, (_k, v: unknown) => (typeof v === "number" ? Math.round(v) : v), 1) + "\n");
  node.end();
} else await compare();

/** One thread and all, each in a process of its own, in turn. */
async function compare(): Promise<void> {
  const cores = availableParallelism();
  const runs: Record<number, (typeof report)[]> = { 1: [], [cores]: [] };
  for (let k = 0; k < 3; k++) {
    for (const n of [1, cores]) {
      const args = [process.argv[1], `--threads=${n}`, ...process.argv.slice(2)];
      runs[n].push(JSON.parse(execFileSync(process.execPath, args, { encoding: "utf8", maxBuffer: 1 << 26 })) as typeof report);
    }
  }
  const middle = (n: number, name: string, what: "wall" | "cpu") => runs[n].map((r) => r[name][what]).sort((a, b) => a - b)[1];
  for (const name of Object.keys(runs[1][0])) {
    const [one, all] = [middle(1, name, "wall"), middle(cores, name, "wall")];
    const ratio = all / one;
    const serial = Math.max(0, Math.min(1, (ratio - 1 / cores) / (1 - 1 / cores)));
    const at = (n: number) => (serial + (1 - serial) / n).toFixed(2);
    process.stdout.write(
      `${name.padEnd(12)} ${one} → ${all} ms wall with ${cores} threads (${ratio.toFixed(2)}), CPU ${middle(1, name, "cpu")} → ${middle(cores, name, "cpu")} ms; serial ${(100 * serial).toFixed(0)} %, with 8 cores ${at(8)}, with 16 ${at(16)}\n`,
    );
  }
}
