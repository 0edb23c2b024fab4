/** Job files that nobody wrote in good faith: whatever they hold, they are opened or refused in one sentence, at once; and what is whole of a damaged one is there. */
import { wholeFrame } from "../kinds/contents/frame/record";
import { refusal } from "../../tests/support/refusal";
import { sentence } from "../messages/sentence";
import { written } from "../messages/message";
import fc from "fast-check";
import { readFileSync } from "node:fs";
import { NIGHT } from "../../tests/support/night";
import { newFrame, newStroke } from "../../tests/support/records";
import { addFrames, startJob, takeStep } from "./edits";
import { addLayer, paintedMask } from "./layerEdits";
import { FILE_LIMITS, JOB_LIMITS } from "./limits";
import { DOCUMENT_VERSION } from "./migrations/migrations";
import { DocumentError, parseDocument, salvageDocument } from "./parseDocument";
import type { AnyRecord, RecordKind, Records } from "./records/types";
import { VALIDATORS } from "./records/validators";
import { framesOf, layersOf } from "./selectors";
import type { Step } from "./history";

const at = "2026-01-01T00:00:00.000Z";
const text = { stage: "compose", label: written("step") };

/** Opens it or refuses it in a sentence; anything else that is thrown is a fault. */
function attempt(json: unknown): void {
  for (const open of [() => parseDocument(json), () => parseDocument(json, "storage"), () => salvageDocument(json)]) {
    try {
      const { records, job } = open();
      expect(Object.getPrototypeOf(records)).toBe(Object.prototype);
      expect(job.history.steps.every((s) => typeof s.stage === "string" && typeof s.note === "string")).toBe(true);
    } catch (error) {
      if (!(error instanceof DocumentError)) throw error;
      expect(sentence((error as DocumentError).told)).toMatch(/^The job .{5,400}\.$/s);
    }
  }
}

const NASTY = [
  "__proto__",
  "constructor",
  "toString",
  "hasOwnProperty",
  "valueOf",
  "",
  "<img src=x onerror=alert(1)>",
  "x".repeat(5000),
  "\u0000",
  "../../etc",
];
const word = fc.oneof(fc.constantFrom(...NASTY, "frame", "layer", "stroke", "kind", "id"), fc.string());
const nasty = fc.oneof(
  fc.jsonValue(),
  fc.constantFrom<unknown>(1e308, -1e308, 2 ** 53, -0, null, [], {}, [[]], "5", true),
  word,
  fc.array(fc.constantFrom<unknown>(0, 1e9, null, "1"), { maxLength: 9 }),
);

it("arbitrary JSON is refused, never thrown at", () => {
  fc.assert(
    fc.property(
      fc.oneof(nasty, fc.record({ version: fc.integer({ min: 0, max: 12 }), id: word, history: fc.record({ steps: fc.array(nasty), head: nasty }) })),
      attempt,
    ),
    {
      numRuns: 1500,
    },
  );
});

it.each(Object.keys(VALIDATORS) as RecordKind[])("a record of kind %s made of anything is refused, or is what it should be", (kind) => {
  const history = (record: unknown) => ({
    steps: [{ id: "s", parent: null, at, stage: "gather", label: written("x"), diff: { added: { r: record }, updated: {}, removed: {} } }],
    head: "s",
  });
  fc.assert(
    fc.property(fc.dictionary(word, nasty), fc.integer({ min: 1, max: DOCUMENT_VERSION }), (fields, version) =>
      attempt({ version, id: "a", history: history({ ...fields, kind, id: "r" }) }),
    ),
    { numRuns: 150 },
  );
});

/** Everything that can be reached in a job, as paths. */
function pathsOf(value: unknown, path: string[] = []): string[][] {
  if (typeof value !== "object" || value === null) return [path];
  return [path, ...Object.entries(value).flatMap(([key, part]) => pathsOf(part, [...path, key]))];
}
function replaced(value: unknown, [key, ...rest]: string[], by: unknown): unknown {
  if (key === undefined) return by;
  const copy = (Array.isArray(value) ? [...(value as unknown[])] : { ...(value as object) }) as Record<string, unknown>;
  copy[key] = replaced(copy[key], rest, by);
  return copy;
}

it("jobs of every version with one thing in them replaced are opened or refused", () => {
  const files = ["v1-radiance", "v3-fusion", "v5-panorama", "v6-focus", "v9-radiance"].map(
    (name) => JSON.parse(readFileSync(`tests/fixtures/jobs/${name}.json`, "utf8")) as unknown,
  );
  const reachable = files.map((file) => pathsOf(file));
  fc.assert(
    fc.property(fc.nat(files.length - 1), fc.nat(), nasty, (which, place, by) => {
      const paths = reachable[which];
      attempt(replaced(files[which], paths[place % paths.length], by));
    }),
    { numRuns: NIGHT ? 5000 : 250 },
  );
});

function painted(layers: number): { steps: Step[]; head: string; records: Records } {
  let state = startJob("Test", at, "set-1");
  state = takeStep(state.history, state.records, addFrames([newFrame()]), text, at);
  const frameId = framesOf(state.records)[0].id;
  for (let i = 0; i < layers; i++) {
    state = takeStep(state.history, state.records, addLayer({ name: `L${i}`, content: wholeFrame(frameId), mask: paintedMask(0, "p") }), text, at);
  }
  return { steps: state.history.steps, head: state.history.head!, records: state.records };
}
const jobOf = (steps: unknown[], head: string | null) =>
  JSON.parse(JSON.stringify({ version: DOCUMENT_VERSION, id: "a", history: { steps, head } })) as unknown;
const step = (id: string, parent: string | null, added: Record<string, AnyRecord>): unknown => ({
  id,
  parent,
  at,
  stage: "compose",
  label: written("x"),
  diff: { added, updated: {}, removed: {} },
});

it("more layers, steps and strokes than there may be are refused with both numbers", () => {
  const { steps, head, records } = painted(1);
  const layer = layersOf(records)[0];
  const more = Object.fromEntries(Array.from({ length: 10_000 }, (_, i) => [`l${i}`, { ...layer, id: `l${i}` }]));
  expect(refusal(() => parseDocument(jobOf([...steps, step("x", head, more)], "x")))).toBe(
    `The job holds 10001 layers in a set; ${JOB_LIMITS.layers} is the most Marsh works with.`,
  );
  // also where the branch was left
  expect(() => parseDocument(jobOf([...steps, step("x", head, more)], head))).toThrow(/job.holds.*10001/);
  const many = Array.from({ length: FILE_LIMITS.steps + 1 }, (_, i) => step(`s${i}`, i ? `s${i - 1}` : null, {}));
  expect(() => parseDocument(jobOf(many, null))).toThrow(/job.steps/);
});

it("5,000 steps and 2,000 strokes of 200 points are opened at once", () => {
  const { steps, head, records } = painted(1);
  const layer = layersOf(records)[0];
  const points = Array.from({ length: 600 }, (_, k) => (k * 7) % 900);
  let last = head;
  const more = Array.from({ length: 5000 }, (_, i) => {
    const made = step(`s${i}`, last, i < 2000 ? { [`k${i}`]: newStroke({ id: `k${i}`, layerId: layer.id, partId: "p", points }) } : {});
    last = `s${i}`;
    return made;
  });
  const json = jobOf([...steps, ...more], last);
  const before = process.cpuUsage();
  const { records: opened } = parseDocument(json);
  const { user, system } = process.cpuUsage(before);
  expect(Object.values(opened).filter((r) => r.kind === "stroke")).toHaveLength(2000);
  // a second is what a person may be kept; a tenth of it was measured, quadratic loops took minutes
  expect((user + system) / 1e6).toBeLessThan(3);
});

describe("what is whole of a damaged job", () => {
  const { steps, head } = painted(3);
  const whole = jobOf(steps, head) as { version: number; id: string; history: { steps: Step[]; head: string | null } };

  it("of a whole job it is all", () => {
    const { job, lost, records } = salvageDocument(whole);
    expect(lost).toBe(0);
    expect(job).toEqual(parseDocument(whole).job);
    expect(layersOf(records)).toHaveLength(3);
  });

  it("ends before the first step that cannot be read, and leaves out what follows it", () => {
    const damaged = structuredClone(whole);
    Object.values(damaged.history.steps[3].diff.added)[0].id = 5 as unknown as string;
    expect(() => parseDocument(damaged)).toThrow(DocumentError);
    const { job, lost, records } = salvageDocument(damaged);
    expect(lost).toBe(2);
    expect(job.history.head).toBe(steps[2].id);
    expect(layersOf(records)).toHaveLength(1);
    expect(() => parseDocument(job)).not.toThrow();
  });

  it("keeps a branch that is whole, and says where the job stood as near as it can", () => {
    const damaged = structuredClone(whole);
    damaged.history.steps.push({ ...damaged.history.steps[4], id: "branch", parent: steps[2].id });
    damaged.history.steps[3] = null as unknown as Step;
    const { job, lost } = salvageDocument(damaged);
    expect(lost).toBe(2);
    expect(job.history.steps.map((s) => s.id)).toEqual([steps[0].id, steps[1].id, steps[2].id, "branch"]);
    // the way to where it stood is broken right behind its first steps
    expect(job.history.head).toBe(job.history.steps.at(-1)!.id);
  });

  it("of nothing readable it is nothing, and a newer version is not guessed at", () => {
    expect(() => salvageDocument(jobOf([null, 5], null))).toThrow("job.noStep");
    expect(() => salvageDocument({ ...whole, version: 99 })).toThrow("job.newer");
  });
});
