/** Frames are grouped again as more come: what is known of pairs stays known, and the sets are those of an engine that sees all for the first time. */
import { createNodeEngine, type NodeEngine } from "../cli/createNodeEngine";
import { gatherFiles } from "../cli/gatherFiles";
import type { FrameRecord, Records } from "../document/records/types";
import { MemoryRasterStore } from "./tiles/MemoryRasterStore";
import { SILENT } from "./task";

const FILES = [1, 2, 3].map((i) => `demo/boardwalk/boardwalk-${i}.jpg`).concat(["demo/creek/creek-1.jpg"]);
let warm: NodeEngine;
let records: Records;
let frames: FrameRecord[];

beforeAll(async () => {
  warm = await createNodeEngine(process.cwd(), new MemoryRasterStore());
  const gathered = await gatherFiles(warm, "mixed", FILES, SILENT);
  records = gathered.records;
  frames = gathered.files.map((f) => f.frame!);
});

/** The sets, and how many pairs were looked at closely for them. */
async function grouped(engine: NodeEngine, given: FrameRecord[]) {
  const run = jest.spyOn(engine.ctx.pool, "run");
  const { sets, measuredEv } = await engine.ask("gatherSets", { records, frames: given });
  const pairs = run.mock.calls.filter(([name]) => name === "registerPair").length;
  run.mockRestore();
  const names = (ids: string[]) => ids.map((id) => frames.find((f) => f.id === id)!.fileName);
  return { sets: sets.map(({ kind, confidence, links, frameIds }) => ({ kind, confidence, links, files: names(frameIds) })), measuredEv, pairs };
}

it("in another order, and with more of them", async () => {
  const cold = await createNodeEngine(process.cwd(), new MemoryRasterStore());
  for (const [id, load] of warm.sources) cold.sources.set(id, load);
  const first = await grouped(cold, frames);
  expect(first.pairs).toBeGreaterThan(0);
  expect(first.sets.map((s) => s.files.length).sort()).toEqual([1, 3]);

  const some = await grouped(warm, frames.slice(0, 3));
  const all = await grouped(warm, [...frames].reverse());
  expect(all.pairs).toBeLessThan(first.pairs);
  const byFile = (sets: typeof first.sets) => [...sets].sort((a, b) => a.files[0].localeCompare(b.files[0]));
  expect(byFile(all.sets)).toEqual(byFile(first.sets));
  expect(all.measuredEv).toEqual(first.measuredEv);
  const again = await grouped(warm, frames.slice(0, 3));
  expect(again).toEqual({ ...some, pairs: 0 });
});
