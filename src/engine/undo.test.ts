/** Three hundred actions, then all the way back and on again: the document and what it looks like are what they were at every step. */
import { written } from "../messages/message";
import fc from "fast-check";
import { DRAWN, editOf } from "../../tests/support/randomEdits";
import { worldJob } from "../../tests/support/worldJob";
import { createNodeEngine, type NodeEngine } from "../cli/createNodeEngine";
import { takeStep } from "../document/edits";
import { EMPTY_HISTORY, moveHead, pathTo, recordsAt, stepById, type History } from "../document/history";
import type { Records } from "../document/records/types";
import { documentSize } from "../document/selectors";
import { MemoryRasterStore } from "./tiles/MemoryRasterStore";

const ACTIONS = 300;

let node: NodeEngine;
beforeAll(async () => (node = await createNodeEngine(process.cwd(), new MemoryRasterStore())));

async function looksLike(records: Records): Promise<string> {
  const { width, height } = documentSize(records)!;
  const rect = { x: 0, y: 0, width, height };
  const { rgba } = await node.ask("renderRect", { records, view: { kind: "compose" }, level: 0, rect, space: "srgb" });
  return Buffer.from(rgba).toString("base64");
}

it("back and forth, document and pixels are equal", async () => {
  const start = await worldJob(node, "fusion");
  const begun = takeStep(EMPTY_HISTORY, {}, () => start, { stage: "merge", label: written("begun") }, "t");
  let history: History = begun.history;
  let records: Records = begun.records;
  const seen = new Map<string, { document: string; pixels: string | null }>();
  const keep = async (look: boolean) => seen.set(history.head!, { document: JSON.stringify(records), pixels: look ? await looksLike(records) : null });
  await keep(true);
  const draws = fc.sample(DRAWN, { numRuns: ACTIONS, seed: 2026 });
  for (const [i, draw] of draws.entries()) {
    // now and then a few steps are taken back, so that the history branches
    const back = draw.d > 0.93 ? (stepById(history, history.head)?.parent ?? null) : null;
    if (back) ({ history, records } = moveHead(history, records, back));
    const taken = takeStep(history, records, editOf(records, draw, i), { stage: "compose", label: written(`${i}`) }, "t");
    if (!taken.step) continue;
    ({ history, records } = taken);
    await keep(i % 15 === 0);
  }
  expect(history.steps.length).toBeGreaterThan(ACTIONS / 2);
  const path = pathTo(history, history.head).map((s) => s.id);
  const check = async (id: string) => {
    ({ history, records } = moveHead(history, records, id));
    const then = seen.get(id)!;
    expect(JSON.stringify(sorted(records))).toBe(JSON.stringify(sorted(JSON.parse(then.document) as Records)));
    if (then.pixels) expect((await looksLike(records)) === then.pixels).toBe(true);
  };
  for (const id of [...path].reverse()) await check(id);
  for (const id of path) await check(id);
  // across branches too, and what is read from the history alone
  for (const step of history.steps.filter((_, i) => i % 29 === 0)) {
    await check(step.id);
    expect(sorted(recordsAt(history, step.id))).toEqual(sorted(records));
  }
}, 300_000);

const sorted = (records: Records) => Object.fromEntries(Object.entries(records).sort(([a], [b]) => (a < b ? -1 : 1)));
