/**
 * Things fail: at every seam by itself, and anything at random while a person works. The person is told in a sentence, nothing that was shown as saved is lost, and
 * the work goes on.
 */
import { sentence } from "../messages/sentence";
import { message, written } from "../messages/message";
import { openTabs, settle, type Tab } from "../../tests/support/tabs";
import { NIGHT } from "../../tests/support/night";
import { newFrame } from "../../tests/support/records";
import { randomOf } from "../../tests/support/kernels";
import { Refusal } from "../core/refusal";
import { unmovedRegistration } from "../document/edits";
import { setFinish } from "../document/finishEdits";
import { DocumentError } from "../document/parseDocument";
import { finishValues, activeFramesOf, framesOf, workingSetIdOf } from "../document/selectors";
import { FormatError } from "../formats/formatError";
import { StorageError } from "../storage/database";
import { RemoteError } from "../workers/client/EngineClient";
import { toldOf } from "./toldOf";

const tab = openTabs();
afterEach(() => jest.restoreAllMocks());
const state = (t: Tab) => t.store.useSession.getState();
const exposure = (ev: number) => [setFinish("exposure", { ev }), { stage: "finish", label: written(`exposure ${ev}`) }] as const;

/** A sentence for people: it begins as one, ends as one, and holds nothing that only programmers read. */
const SENTENCE = /^(\w\.jpg: )?[A-Z“0-9][^]{15,400}[.!]$|^\w\.jpg is the same file/;
const RAW = /undefined|null|\[object|TypeError|RangeError|DOMException|Failed to fetch|is not a function|is not iterable/;

describe("every seam", () => {
  it.each([
    ["a reader", new FormatError("damaged", "png.damaged"), "FormatError.damaged", /damaged or cut short/],
    ["a coder's file", new Refusal("notLoaded", "engine.notLoaded"), "Refusal.notLoaded", /could not be loaded/],
    ["a store that is full", new StorageError("quota", "storage.full"), "StorageError.quota", /storage is full/],
    ["the browser's quota itself", new DOMException("The quota has been exceeded.", "QuotaExceededError"), "QuotaExceededError", /Nothing stored was lost/],
    [
      "a file that was moved",
      new DOMException("A requested file could not be read", "NotReadableError"),
      "NotReadableError",
      /moved, changed or locked.*Choose it again/,
    ],
    ["a job", new DocumentError(message("job.damaged", { why: message("job.noHistory", {}) })), "DocumentError.damaged", /history is missing/],
    ["a worker that died", new RemoteError("WorkerError", "", undefined, message("engine.restarted", { why: "out of memory" })), "WorkerError", /restarted/],
    ["what another thread refused", new RemoteError("FormatError", "", "limit", message("file.tooLarge", { gb: 2 })), "FormatError.limit", /2 GB/],
    ["a fault of ours", new TypeError("Cannot read properties of undefined"), "TypeError", /no words for.*The job is as it was.*Try it again/],
    ["something that is no error", "ouch", "Error", /no words for \(ouch\)/],
  ])("%s: one sentence with what was kept, and its code", async (_seam, error, code, words) => {
    const told = toldOf(error);
    expect([told.code, sentence(told.told)]).toEqual([code, expect.stringMatching(words)]);
    const t = await tab();
    await t.jobs.newJob("A");
    const gathering = t.actions.gather([{ name: "1.jpg", file: new Blob(["1"]) }]);
    await settle();
    await t.last("gatherFile").fail(error as Error);
    await gathering;
    const notice = state(t).notices.at(-1)!;
    expect(sentence(notice.told)).toMatch(/^1\.jpg: /);
    expect(notice.code).toBe(code);
    expect(framesOf(state(t).records)).toHaveLength(0);
  });

  it("a file of the application that cannot be had", async () => {
    const { loadWasm } = await import("../workers/entries/loadCodecs");
    for (const answer of [() => Promise.reject(new TypeError("Failed to fetch")), () => Promise.resolve({ ok: false })]) {
      Object.assign(globalThis, { fetch: answer });
      await expect(loadWasm("kernels")).rejects.toThrow("engine.notLoaded");
    }
  });

  it("a database that does not open, and one that does again", async () => {
    const t = await tab();
    const real = indexedDB.open.bind(indexedDB);
    jest.spyOn(indexedDB, "open").mockImplementation(() => {
      throw new DOMException("Internal error opening backing store", "UnknownError");
    });
    await t.jobs.newJob("A");
    await settle();
    expect(state(t).saved).toBe("unsaved");
    expect(t.notices().join()).toMatch(/storage cannot be used/);
    jest.spyOn(indexedDB, "open").mockImplementation(real);
    t.open.edit(...exposure(0.5));
    await settle();
    expect(state(t).saved).toBe("saved");
    expect((await t.jobStore.loadJob(state(t).jobId!))?.steps).toHaveLength(2);
  });
});

/** Breaks calls of the database at random while it is on. */
function breakable(random: () => number) {
  const control = { on: false, broken: 0 };
  const names = ["QuotaExceededError", "UnknownError", "AbortError", "InvalidStateError"];
  const may = () => {
    if (!control.on || random() > 0.12) return;
    control.broken++;
    throw new DOMException("made to fail", names[Math.floor(random() * names.length)]);
  };
  const wrap = (of: object, method: string) => {
    const real = (of as Record<string, (...a: unknown[]) => unknown>)[method];
    jest.spyOn(of as never, method as never).mockImplementation(function (this: unknown, ...args: unknown[]) {
      may();
      return real.apply(this, args);
    } as never);
  };
  for (const method of ["put", "get", "getAll", "getAllKeys", "delete"]) wrap(IDBObjectStore.prototype, method);
  wrap(IDBDatabase.prototype, "transaction");
  return control;
}

const ENGINE_FAILURES = [
  () => new RemoteError("WorkerError", "The computation had to be restarted (out of memory). The job is as it was."),
  () => new RemoteError("StorageError", "The browser's storage is full: the intermediate pictures do not fit.", "quota"),
  () => new RemoteError("FormatError", "The JPEG data is damaged or cut short and cannot be read.", "damaged"),
  () => new RemoteError("TypeError", "Cannot read properties of undefined (reading 'x')"),
];

/** Answers or fails everything that waits for the engine. */
async function answerAll(t: Tab, random: () => number, failing: boolean): Promise<void> {
  for (let k = 0; k < 30; k++) {
    await settle(3);
    const [call] = t.asked;
    if (!call) return;
    if (failing && random() < 0.2) {
      await call.fail(ENGINE_FAILURES[Math.floor(random() * ENGINE_FAILURES.length)]());
      continue;
    }
    const frames = activeFramesOf(state(t).records);
    const results: Record<string, () => unknown> = {
      gatherFile: () => newFrame({ fileName: call.params.fileName as string, sourceId: `${String(call.params.fileName).charCodeAt(0)}`.padStart(64, "0") }),
      gatherSets: () => ({
        sets: [{ kind: "bracket", frameIds: framesOf(state(t).records).map((f) => f.id), reasons: [], confidence: 1, links: [] }],
        measuredEv: {},
      }),
      measureExposures: () => ({}),
      compareFrames: () => [],
      register: () => {
        const setId = workingSetIdOf(state(t).records);
        return { registration: { ...unmovedRegistration(frames, frames[0], 1), id: `registration-${setId}`, setId }, measuredEv: {} };
      },
    };
    const result = results[call.name];
    if (result) await call.answer(result());
    else await call.fail(new RemoteError("CancelledError", "Stopped."));
  }
}

it.each(Array.from({ length: NIGHT ? 100 : 25 }, (_, i) => i))("anything fails at random while a person works (%i)", async (seed) => {
  const random = randomOf(seed + 1);
  const t = await tab();
  const broken = breakable(random);
  await t.jobs.newJob("A");
  await settle();
  const id = state(t).jobId!;
  expect(state(t).saved).toBe("saved");
  /** steps that were shown as saved */
  let safe = new Set<string>();
  const look = () => {
    if (state(t).saved === "saved" && state(t).jobId === id) safe = new Set(state(t).history.steps.map((s) => s.id));
  };
  const unsubscribe = t.store.useSession.subscribe(look);
  broken.on = true;
  const acts = [
    () => t.actions.gather([{ name: `${String.fromCharCode(97 + Math.floor(random() * 9))}.jpg`, file: new Blob(["x"]) }]),
    () => t.actions.register(),
    () => t.actions.compareSet(),
    () => void (t.open.openJobOrNone() && t.open.edit(...exposure(Math.round(100 * random()) / 100))),
    () => t.open.undo(),
    () => t.open.redo(),
    () => t.jobs.refreshJobs(),
    async () => {
      if (await t.jobs.closeJob()) await t.jobs.openStoredJob(id);
      // what could not be opened is tried again
      for (let k = 0; k < 20 && state(t).jobId !== id; k++) await t.jobs.openStoredJob(id);
    },
  ];
  for (let k = 0; k < 14; k++) {
    const act = Promise.resolve(acts[Math.floor(random() * acts.length)]()).catch((error: unknown) => {
      throw new Error(`An act threw: ${String(error)}`);
    });
    await answerAll(t, random, true);
    await act;
    await settle(3);
  }
  broken.on = false;
  unsubscribe();
  for (const { told } of state(t).notices) {
    const text = sentence(told);
    expect(text).toMatch(SENTENCE);
    if (!text.includes("no words for")) expect(text).not.toMatch(RAW);
  }
  if (broken.broken > 3) expect(state(t).notices.length).toBeGreaterThan(0);

  // healed: the job goes on, and holds all that was shown as saved
  if (state(t).jobId !== id) expect(await t.jobs.openStoredJob(id)).toBe(true);
  expect(state(t).readOnly).toBe(false);
  expect(t.open.edit(...exposure(1.5))).toBe(true);
  await answerAll(t, random, false);
  await settle(20);
  const { steps } = state(t).history;
  expect(await t.jobs.closeJob()).toBe(true);
  const stored = (await t.jobStore.loadJob(id))!;
  expect(stored.steps.map((s) => s.id)).toEqual(steps.map((s) => s.id));
  const kept = new Set(stored.steps.map((s) => s.id));
  expect([...safe].filter((known) => !kept.has(known))).toEqual([]);
  expect(await t.jobs.openStoredJob(id)).toBe(true);
  expect(finishValues(state(t).records, "exposure")).toEqual({ ev: 1.5 });
});
