/** Jobs, tasks and tabs in every order that matters: no result lands in another job, nothing is lost, and what cannot be done is said. */
import { sentence } from "../messages/sentence";
import { written } from "../messages/message";
import { openTabs, settle, type Tab } from "../../tests/support/tabs";
import { newFrame } from "../../tests/support/records";
import { addFrames, unmovedRegistration } from "../document/edits";
import { setFinish } from "../document/finishEdits";
import { addLayer } from "../document/layerEdits";
import { finishValues, activeFramesOf, framesOf, jobOf, registrationOf, workingSetIdOf } from "../document/selectors";
import { freshMerge, setMerge } from "../document/mergeEdits";
import { setRegistration } from "../document/edits";

const tab = openTabs();

const state = (t: Tab) => t.store.useSession.getState();
const frames = (t: Tab, n: number) =>
  t.open.edit(addFrames(Array.from({ length: n }, (_, i) => newFrame({ fileName: `${i}.jpg`, sourceId: `${i}`.padStart(64, "0") }))), {
    stage: "gather",
    label: written("frames"),
  });
const registered = (t: Tab) => {
  const of = activeFramesOf(state(t).records);
  return {
    registration: { ...unmovedRegistration(of, of[0], 1), id: `registration-${workingSetIdOf(state(t).records)}`, setId: workingSetIdOf(state(t).records) },
    measuredEv: {},
  };
};
const exposure = (ev: number) => [setFinish("exposure", { ev }), { stage: "finish", label: written(`exposure ${ev}`) }] as const;

async function jobWith(t: Tab, name: string, n: number): Promise<string> {
  await t.jobs.newJob(name);
  frames(t, n);
  await settle();
  return state(t).jobId!;
}

describe("a result belongs to the job it was asked for", () => {
  it("what is registered in one job does not land in another, and the task of the job that is left ends", async () => {
    const t = await tab();
    const a = await jobWith(t, "A", 3);
    const b = await jobWith(t, "B", 2);
    await t.jobs.openStoredJob(a);
    const registering = t.actions.register();
    await settle();
    const asked = t.last("register");
    const result = registered(t);
    await t.jobs.openStoredJob(b);
    expect(asked.signal?.aborted).toBe(true);
    await asked.answer(result);
    await registering;
    expect(jobOf(state(t).records)?.name).toBe("B");
    expect([registrationOf(state(t).records), framesOf(state(t).records).length, state(t).busy]).toEqual([undefined, 2, null]);
    await t.jobs.openStoredJob(a);
    expect(registrationOf(state(t).records)).toBeUndefined();
  });

  it("frames that were read when another job is opened stay in their job", async () => {
    const t = await tab();
    await t.jobs.newJob("A");
    const a = state(t).jobId!;
    const gathering = t.actions.gather([1, 2, 3].map((i) => ({ name: `${i}.jpg`, file: new Blob([`${i}`]) })));
    await settle();
    await t.last("gatherFile").answer(newFrame({ fileName: "1.jpg" }));
    const opening = t.jobs.newJob("B");
    await gathering;
    await opening;
    expect([jobOf(state(t).records)?.name, framesOf(state(t).records).length]).toEqual(["B", 0]);
    await t.jobs.openStoredJob(a);
    expect(framesOf(state(t).records).map((f) => f.fileName)).toEqual(["1.jpg"]);
  });

  it("sets of two jobs have different names", async () => {
    const t = await tab();
    await t.jobs.newJob("A");
    const first = workingSetIdOf(state(t).records);
    await t.jobs.newJob("B");
    expect(workingSetIdOf(state(t).records)).not.toBe(first);
  });

  it("of two jobs opened one right after the other the last is shown", async () => {
    const t = await tab();
    const a = await jobWith(t, "A", 1);
    const b = await jobWith(t, "B", 2);
    await t.jobs.closeJob();
    const both = [t.jobs.openStoredJob(a), t.jobs.openStoredJob(b)];
    await Promise.all(both);
    expect(state(t).jobId).toBe(b);
    const again = await tab();
    expect(await again.jobs.openStoredJob(a)).toBe(true);
    expect(state(again).readOnly).toBe(false);
  });
});

describe("a result is put onto the job as it is then, or dropped with a sentence", () => {
  it("an edit that has nothing to do with it stays", async () => {
    const t = await tab();
    await jobWith(t, "A", 2);
    const registering = t.actions.register();
    await settle();
    t.open.edit(...exposure(0.5));
    await t.last("register").answer(registered(t));
    await registering;
    expect(registrationOf(state(t).records)?.placements).toHaveLength(2);
    expect(finishValues(state(t).records, "exposure")).toEqual({ ev: 0.5 });
  });

  it("one whose frames changed meanwhile is dropped", async () => {
    const t = await tab();
    await jobWith(t, "A", 3);
    const registering = t.actions.register();
    await settle();
    const result = registered(t);
    frames(t, 1);
    await t.last("register").answer(result);
    await registering;
    expect(registrationOf(state(t).records)).toBeUndefined();
    expect(t.notices().join()).toMatch(/was dropped: what it was computed from has changed meanwhile/);
  });
});

it("what follows gathering by itself does not stop what the person began meanwhile", async () => {
  const t = await tab();
  await t.jobs.newJob("A");
  const gathering = t.actions.gather([1, 2].map((i) => ({ name: `${i}.jpg`, file: new Blob([`${i}`]) })));
  for (const i of [1, 2]) {
    await settle();
    await t.last("gatherFile").answer(newFrame({ sourceId: `${i}`.padStart(64, "0") }));
  }
  const grouping = t.last("gatherSets");
  const frameIds = framesOf(state(t).records).map((f) => f.id);
  let [registering, begun] = [Promise.resolve(), false];
  // the person is quicker than the next task
  const unsubscribe = t.store.useSession.subscribe((s) => {
    if (begun || s.history.steps.length !== 3) return;
    begun = true;
    registering = t.actions.register();
  });
  await grouping.answer({ sets: [{ kind: "bracket", frameIds, reasons: [], confidence: 1, links: [] }], measuredEv: {} });
  unsubscribe();
  await settle();
  expect(t.asked.map((a) => a.name)).toEqual(["register"]);
  await t.last("register").answer(registered(t));
  await registering;
  await gathering;
  expect(registrationOf(state(t).records)?.placements).toHaveLength(activeFramesOf(state(t).records).length);
});

describe("limits are told before anything is computed", () => {
  it("a set of too many frames is not registered", async () => {
    const t = await tab();
    await jobWith(t, "A", 65);
    await t.actions.register();
    expect(t.asked).toEqual([]);
    expect(t.notices().join()).toMatch(/at most 64 frames; 65 take part/);
  });

  it("a layer too many is refused, and the job stays as it was", async () => {
    const t = await tab();
    await jobWith(t, "A", 2);
    const layer = (i: number) => addLayer({ id: `l${i}`, name: "L", content: { type: "merge" } });
    for (let i = 0; i < 64; i++) t.open.edit(layer(i), { stage: "compose", label: written("layer") });
    const { records } = state(t);
    expect(t.open.edit(layer(64), { stage: "compose", label: written("layer") })).toBe(false);
    expect(state(t).records).toBe(records);
    expect(t.notices().join()).toMatch(/at most 64 layers/);
  });

  it("a record that would not be valid is refused with a sentence", async () => {
    const t = await tab();
    await jobWith(t, "A", 1);
    const { records } = state(t);
    expect(t.open.edit(...exposure(NaN))).toBe(false);
    expect(state(t).records).toBe(records);
    expect(t.notices()).toHaveLength(1);
  });
});

describe("Proof", () => {
  const withMerge = async (t: Tab) => {
    await jobWith(t, "A", 2);
    t.open.edit((r) => setMerge(freshMerge("fusion"))(setRegistration(registered(t).registration, {})(r)), { stage: "merge", label: written("merged") });
  };
  it("that is stopped or fails leaves the state inspected, so that it is not begun again by itself", async () => {
    const t = await tab();
    await withMerge(t);
    const stopped = t.actions.proof();
    await settle();
    state(t).busy!.stop();
    await stopped;
    expect([state(t).inspected, state(t).findings]).toEqual([state(t).records, null]);
    const failing = t.actions.proof();
    await settle();
    await t.last("proof").fail(new Error("It did not work."));
    await failing;
    expect(state(t).inspected).toBe(state(t).records);
    expect(t.notices().join()).toMatch(/^Something went wrong that Marsh has no words for \(It did not work\)/);
  });

  it("is remembered over a reload, as long as nothing changed since", async () => {
    const t = await tab();
    await withMerge(t);
    const id = state(t).jobId!;
    const run = t.actions.proof();
    await settle();
    await t.last("proof").answer([{ id: "f", kind: "noEffect", values: { layer: "L" }, place: null, share: 0, weight: 1, cause: "compose", remedy: null }]);
    await run;
    await t.jobs.closeJob();
    await t.jobs.openStoredJob(id);
    expect(state(t).findings).toMatchObject([{ id: "f" }]);
    expect(state(t).inspected).toBe(state(t).records);
    t.open.edit(...exposure(1));
    await t.jobs.closeJob();
    await t.jobs.openStoredJob(id);
    expect(state(t).findings).toBeNull();
  });
});

describe("two tabs", () => {
  it("the second looks on, follows, and takes over when the first closes, with all that was done there", async () => {
    const [first, second] = [await tab(), await tab()];
    const id = await jobWith(first, "A", 1);
    await second.jobs.openStoredJob(id);
    expect(state(second).readOnly).toBe(true);
    expect(second.open.edit(...exposure(1))).toBe(false);
    expect(second.notices().join()).toMatch(/only be looked at here/);
    first.open.edit(...exposure(0.25));
    await settle();
    expect(finishValues(state(second).records, "exposure")).toEqual({ ev: 0.25 });
    await first.jobs.closeJob();
    await settle();
    expect(state(second).readOnly).toBe(false);
    expect(second.open.edit(...exposure(2))).toBe(true);
    await settle();
    const stored = await second.jobStore.loadJob(id);
    expect(stored?.steps.map((s) => sentence(s.label))).toEqual(['Job "A" begun', "frames", "exposure 0.25", "exposure 2"]);
  });

  it("a job that is open in another tab is not removed, and its sources stay", async () => {
    const [first, second] = [await tab(), await tab()];
    const id = await jobWith(first, "A", 1);
    await second.jobs.deleteJob(id);
    expect(second.notices().join()).toMatch(/open in another tab/);
    expect((await second.jobStore.loadJob(id))?.entry).toMatchObject({ id, removedAt: null });
    await first.jobs.closeJob();
    await second.jobs.deleteJob(id);
    expect(await second.jobStore.loadJob(id)).toBeUndefined();
  });

  it("removing a job leaves what another tab is gathering", async () => {
    const [first, second] = [await tab(), await tab()];
    const old = await jobWith(second, "old", 1);
    await second.jobs.closeJob();
    await first.jobs.newJob("A");
    const { saveSource, loadKept } = await import("../storage/sourceStore");
    await saveSource(state(first).jobId!, "c".repeat(64), new Blob(["x"]));
    await second.jobs.deleteJob(old);
    expect(await loadKept("c".repeat(64))).not.toBeNull();
  });

  it("removing the job that is open closes it, and a task of it brings nothing back", async () => {
    const t = await tab();
    const id = await jobWith(t, "A", 2);
    const registering = t.actions.register();
    await settle();
    await t.jobs.deleteJob(id);
    await registering;
    await settle();
    expect([state(t).jobId, await t.jobStore.loadJob(id)]).toEqual([null, undefined]);
  });
});

describe("the storage fails", () => {
  const failing = (t: Tab) => {
    const write = jest.spyOn(IDBObjectStore.prototype, "put").mockImplementation(() => {
      throw new DOMException("full", "QuotaExceededError");
    });
    return { t, heal: () => write.mockRestore() };
  };

  it("nothing is lost while it is full: the job stays open, says so, and is stored when there is room again", async () => {
    const t = await tab();
    const id = await jobWith(t, "A", 1);
    const { heal } = failing(t);
    t.open.edit(...exposure(0.75));
    await settle();
    expect(state(t).saved).toBe("unsaved");
    expect(t.store.mayBeLeft(state(t))).toBe(false);
    expect(t.notices().join()).toMatch(/storage is full/);
    expect(await t.jobs.closeJob()).toBe(false);
    expect(finishValues(state(t).records, "exposure")).toEqual({ ev: 0.75 });
    expect((await t.jobStore.loadJob(id))?.steps).toHaveLength(2);
    heal();
    expect(await t.jobs.closeJob()).toBe(true);
    expect((await t.jobStore.loadJob(id))?.steps).toHaveLength(3);
    expect(t.store.mayBeLeft(state(t))).toBe(true);
  });

  it("the page is not left without asking from the moment that something is done until it is stored", async () => {
    const t = await tab();
    await jobWith(t, "A", 1);
    expect(t.store.mayBeLeft(state(t))).toBe(true);
    t.open.edit(...exposure(0.1));
    expect(t.store.mayBeLeft(state(t))).toBe(false);
    await settle();
    expect(t.store.mayBeLeft(state(t))).toBe(true);
  });

  it.each([1, 2, 3])("a save is whole or not at all, wherever it is cut (write %i)", async (n) => {
    const t = await tab();
    const id = await jobWith(t, "A", 1);
    const real = IDBObjectStore.prototype.put;
    let left = n;
    const write = jest.spyOn(IDBObjectStore.prototype, "put").mockImplementation(function (this: IDBObjectStore, ...args: Parameters<typeof real>) {
      if (--left === 0) throw new DOMException("full", "QuotaExceededError");
      return real.apply(this, args);
    });
    t.open.edit(...exposure(0.1));
    t.open.edit(...exposure(0.2));
    await settle();
    write.mockRestore();
    const found = (await t.jobStore.loadJob(id))!;
    expect(found.steps.at(-1)?.id).toBe(found.entry.head);
    t.open.edit(...exposure(0.3));
    await settle();
    const later = (await t.jobStore.loadJob(id))!;
    expect(later.steps.map((s) => sentence(s.label)).slice(2)).toEqual(["exposure 0.1", "exposure 0.2", "exposure 0.3"]);
  });

  it("a step costs its own write, however long the history is", async () => {
    const t = await tab();
    await jobWith(t, "A", 1);
    for (let i = 0; i < 30; i++) t.open.edit(...exposure(i / 100));
    await settle();
    const write = jest.spyOn(IDBObjectStore.prototype, "put");
    t.open.edit(...exposure(1));
    await settle();
    expect(write.mock.calls.length).toBe(2);
    write.mockRestore();
  });

  it("a damaged step is not entered by undo", async () => {
    const t = await tab();
    const id = await jobWith(t, "A", 1);
    t.open.edit(...exposure(0.5));
    t.open.edit(...exposure(0.6));
    await t.jobs.closeJob();
    const found = (await t.jobStore.loadJob(id))!;
    const bad = structuredClone(found.steps);
    const [from] = Object.values(bad[3].diff.updated)[0] as unknown as [{ content: { values: unknown } }];
    from.content.values = "nonsense";
    await t.jobStore.saveJob(found.entry, [[3, bad[3]]]);
    await t.jobs.openStoredJob(id);
    const { records } = state(t);
    t.open.undo();
    expect(state(t).records).toBe(records);
    expect(t.notices().join()).toMatch(/is damaged and cannot be gone to/);
  });
});

describe("frames as they come", () => {
  const three = [1, 2, 3].map((i) => ({ name: `${i}.jpg`, file: new Blob([`${i}`]) }));
  const answer = (t: Tab, i: number) =>
    t.asked
      .find((a) => a.name === "gatherFile" && a.params.fileName === `${i}.jpg`)!
      .answer(newFrame({ fileName: `${i}.jpg`, sourceId: `${i}`.padStart(64, "0") }));
  const names = (t: Tab) => framesOf(state(t).records).map((f) => f.fileName);

  it("are kept one by one, as one step in the order of their files, so that a browser that dies loses none that was read", async () => {
    Object.defineProperty(globalThis.navigator, "hardwareConcurrency", { value: 3, configurable: true });
    const t = await tab();
    await t.jobs.newJob("A");
    const gathering = t.actions.gather(three);
    await settle();
    await answer(t, 2);
    const [{ id }] = framesOf(state(t).records);
    await answer(t, 1);
    expect(names(t)).toEqual(["1.jpg", "2.jpg"]);
    expect(framesOf(state(t).records)[1].id).toBe(id);
    // what lies in the storage when the browser dies now
    const kept = await t.jobStore.loadJob(state(t).jobId!);
    expect(kept?.steps.map((s) => sentence(s.label))).toEqual(['Job "A" begun', "2 frames gathered"]);
    expect(kept?.entry.sources).toHaveLength(2);
    await answer(t, 3);
    t.last("gatherSets").fail(new Error("enough"));
    await gathering;
    expect(state(t).history.steps.map((s) => sentence(s.label))).toEqual(['Job "A" begun', "3 frames gathered"]);
    expect(framesOf(state(t).records).map((f) => f.index)).toEqual([0, 1, 2]);
  });

  it("leave alone notes that are written while they come", async () => {
    Object.defineProperty(globalThis.navigator, "hardwareConcurrency", { value: 3, configurable: true });
    const t = await tab();
    await t.jobs.newJob("A");
    const gathering = t.actions.gather(three);
    await settle();
    await answer(t, 1);
    const [begun, arriving] = state(t).history.steps;
    t.open.setNote(begun.id, "at the weir");
    t.open.setNote(arriving.id, "the third is late");
    await answer(t, 2);
    await answer(t, 3);
    t.last("gatherSets").fail(new Error("enough"));
    await gathering;
    expect(state(t).history.steps.map((s) => [sentence(s.label), s.note])).toEqual([
      ['Job "A" begun', "at the weir"],
      ["3 frames gathered", "the third is late"],
    ]);
    await settle();
    expect((await t.jobStore.loadJob(state(t).jobId!))?.steps.map((s) => s.note)).toEqual(["at the weir", "the third is late"]);
  });

  it("leave alone what was done meanwhile, and what was undone", async () => {
    Object.defineProperty(globalThis.navigator, "hardwareConcurrency", { value: 3, configurable: true });
    const t = await tab();
    await t.jobs.newJob("A");
    const gathering = t.actions.gather(three);
    await settle();
    await answer(t, 1);
    t.open.edit(...exposure(0.5));
    await answer(t, 3);
    await answer(t, 2);
    t.last("gatherSets").fail(new Error("enough"));
    await gathering;
    expect(names(t).sort()).toEqual(["1.jpg", "2.jpg", "3.jpg"]);
    expect(finishValues(state(t).records, "exposure")).toEqual({ ev: 0.5 });
    expect(
      state(t)
        .history.steps.map((s) => sentence(s.label))
        .slice(1),
    ).toEqual(["1 frame gathered", "exposure 0.5", "2 frames gathered"]);
  });
});

describe("the browser's storage is cleared while a job is open", () => {
  const clear = () => new Promise((go) => (indexedDB.deleteDatabase("marsh").onsuccess = go));

  it("it connects again, stores every step anew, and says what is gone", async () => {
    const t = await tab();
    const id = await jobWith(t, "A", 2);
    t.open.edit(...exposure(0.5));
    await settle();
    await clear();
    t.open.edit(...exposure(0.75));
    await settle(40);
    expect(state(t).saved).toBe("saved");
    expect((await t.jobStore.loadJob(id))?.steps.map((s) => sentence(s.label))).toEqual(['Job "A" begun', "frames", "exposure 0.5", "exposure 0.75"]);
    expect(t.notices().join()).toMatch(/storage was cleared.*steps are stored again.*gather their files again/);
  });

  it("a source that is gathered again is given back to its frame instead of making another", async () => {
    const t = await tab();
    await jobWith(t, "A", 2);
    await clear();
    const gathering = t.actions.gather([{ name: "0.jpg", file: new Blob(["0"]) }]);
    await settle();
    await t.last("gatherFile").answer(newFrame({ fileName: "0.jpg", sourceId: "0".repeat(64) }));
    await gathering;
    expect(framesOf(state(t).records)).toHaveLength(2);
    expect(t.notices().join()).toMatch(/1 source picture that was missing is here again/);
  });
});

describe("a damaged job", () => {
  it("is shown as far as it is whole, to be looked at only; what is stored stays as it is, and the list is there", async () => {
    const t = await tab();
    const id = await jobWith(t, "A", 2);
    t.open.edit(...exposure(0.5));
    t.open.edit(...exposure(0.6));
    await t.jobs.closeJob();
    const found = (await t.jobStore.loadJob(id))!;
    const bad = { ...found.steps[2], diff: null } as never;
    await t.jobStore.saveJob(found.entry, [[2, bad]]);
    expect(await t.jobs.openStoredJob(id)).toBe(true);
    expect([state(t).readOnly, state(t).damaged, state(t).history.steps.length, framesOf(state(t).records).length]).toEqual([true, true, 2, 2]);
    expect(t.notices().join()).toMatch(/This job is damaged: 2 of its 4 steps can be read/);
    expect(t.open.edit(...exposure(1))).toBe(false);
    expect(t.notices().join()).toMatch(/Save it as a job file/);
    await t.jobs.closeJob();
    expect((await t.jobStore.loadJob(id))?.steps[2]).toEqual(bad);
    expect(state(t).jobs.map((j) => j.id)).toEqual([id]);
  });

  it("keeps what lies beside its steps only where that is sound", async () => {
    const t = await tab();
    const id = await jobWith(t, "A", 1);
    await t.jobs.closeJob();
    const { entry } = (await t.jobStore.loadJob(id))!;
    const sound = {
      id: "f",
      kind: "seam" as const,
      values: { a: 1, b: 2, deltaE: 3, worst: 4 },
      place: { x: 1, y: 2, width: 3, height: 4 },
      share: 0.1,
      weight: 1,
      cause: "merge" as const,
      remedy: null,
    };
    for (const [findings, kept] of [
      [[sound], [sound]],
      [[sound, null], null],
      [[{ ...sound, values: {} }], null],
      [[{ ...sound, place: { x: "1" } }], null],
    ] as const) {
      await t.jobStore.saveJob({ ...entry, stage: "constructor", proof: { head: entry.head!, findings: findings as never } }, []);
      expect(await t.jobs.openStoredJob(id)).toBe(true);
      expect([state(t).stage, state(t).findings]).toEqual(["gather", kept]);
      await t.jobs.closeJob();
    }
  });

  it("of a file is opened as far as it is whole, and what is not is named", async () => {
    const t = await tab();
    const { startJob } = await import("../document/edits");
    const other = startJob("From a file", "2026-01-01");
    const opening = t.jobs.openJobFromFile(new Blob(["job"]));
    await settle();
    await t
      .last("openJob")
      .answer({ job: { version: 10, id: "from-file", history: other.history }, records: other.records, lost: 3, missing: ["1.jpg", "2.jpg"] });
    await opening;
    expect(state(t).readOnly).toBe(false);
    expect(t.notices().join(" ")).toMatch(/1 of its 4 steps can be read.*lacks these source pictures.*1\.jpg, 2\.jpg/);
  });
});

it("a job file that comes while frames are read waits until they are, and none is lost", async () => {
  const t = await tab();
  await t.jobs.newJob("A");
  const a = state(t).jobId!;
  const gathering = t.actions.gather([{ name: "1.jpg", file: new Blob(["1"]) }]);
  await settle();
  const opening = t.jobs.openJobFromFile(new Blob(["job"]));
  await settle();
  expect(t.asked.map((c) => c.name)).toEqual(["gatherFile"]);
  await t.last("gatherFile").answer(newFrame());
  const frameIds = framesOf(state(t).records).map((f) => f.id);
  await t.last("gatherSets").answer({ sets: [{ kind: "single", frameIds, reasons: [], confidence: 1, links: [] }], measuredEv: {} });
  await gathering;
  await settle();
  const { startJob } = await import("../document/edits");
  const other = startJob("From a file", "2026-01-01");
  await t.last("openJob").answer({ job: { version: 10, id: "from-file", history: other.history }, records: other.records, lost: 0, missing: [] });
  await opening;
  expect(jobOf(state(t).records)?.name).toBe("From a file");
  await t.jobs.openStoredJob(a);
  expect(framesOf(state(t).records)).toHaveLength(1);
});

it("measuring what steps did gives way to new steps and ends with the job", async () => {
  const { EffectQueue } = await import("./EffectQueue");
  jest.useFakeTimers();
  const asked: { signal: AbortSignal; answer(): void }[] = [];
  const queue = new EffectQueue(
    (_b, _a, signal) =>
      new Promise((resolve, reject) => {
        signal.addEventListener("abort", () => reject(new Error("stopped")));
        asked.push({ signal, answer: () => resolve({ share: 0, meanDeltaE: 0 }) });
      }),
  );
  const measured: string[] = [];
  queue.add({}, {}, () => measured.push("one"));
  await jest.advanceTimersByTimeAsync(500);
  expect(asked).toHaveLength(1);
  queue.add({}, {}, () => measured.push("two"));
  expect(asked[0].signal.aborted).toBe(true);
  await jest.advanceTimersByTimeAsync(1000);
  asked[1].answer();
  await jest.advanceTimersByTimeAsync(1000);
  asked[2].answer();
  await jest.advanceTimersByTimeAsync(1000);
  expect(measured).toEqual(["one", "two"]);
  queue.add({}, {}, () => measured.push("three"));
  await jest.advanceTimersByTimeAsync(500);
  queue.end();
  expect(asked[3].signal.aborted).toBe(true);
  jest.useRealTimers();
});

it("frames are turned all or none, then compared again; under layers they are not", async () => {
  const t = await tab();
  await jobWith(t, "A", 2);
  const turned = { quarterTurns: 1, width: 200, height: 300, measures: newFrame().measures };
  const all = () => framesOf(state(t).records).map((f) => ({ frame: f, by: 1 as const }));
  const turning = t.actions.turn(all());
  await settle();
  await t.last("turnFrame").answer(turned);
  await settle();
  expect(framesOf(state(t).records).map((f) => f.quarterTurns)).toEqual([0, 0]);
  await t.last("turnFrame").answer(turned);
  await settle();
  expect(framesOf(state(t).records).map((f) => [f.quarterTurns, f.width, f.height])).toEqual([
    [1, 200, 300],
    [1, 200, 300],
  ]);
  await t.last("measureExposures").answer({});
  await settle();
  await t.last("compareFrames").answer([]);
  await turning;
  // a layer that comes while they are turned stands on them as they are
  const again = t.actions.turn(all().slice(0, 1));
  await settle();
  t.open.edit(addLayer({ name: "M", content: { type: "merge" } }), { stage: "compose", label: written("layer") });
  await t.last("turnFrame").answer({ ...turned, quarterTurns: 2 });
  await again;
  expect(framesOf(state(t).records).map((f) => f.quarterTurns)).toEqual([1, 1]);
  expect(t.notices().at(-1)).toMatch(/was dropped/);
  await t.actions.turn(all());
  expect(t.asked.filter((a) => a.name === "turnFrame")).toEqual([]);
  expect(t.notices().at(-1)).toMatch(/^Layers stand on these frames/);
});

describe("the list of jobs", () => {
  const listed = (t: Tab) => state(t).jobs.map((j) => [j.name, j.removedAt !== null]);

  it("tells what a job is and where it stands; a removed one can be taken back until it goes for good", async () => {
    const t = await tab();
    const a = await jobWith(t, "A", 3);
    t.open.edit(setRegistration(registered(t).registration, {}), { stage: "register", label: written("r") });
    await t.jobs.closeJob();
    expect(state(t).jobs).toMatchObject([{ name: "A", frames: 3, setKind: "separate", reached: "register", openFindings: null, removedAt: null }]);
    await t.jobs.removeFromList(a);
    expect(listed(t)).toEqual([["A", true]]);
    expect(await t.jobs.openStoredJob(a)).toBe(false);
    await t.jobs.takeBack(a);
    expect(await t.jobs.openStoredJob(a)).toBe(true);
    expect(framesOf(state(t).records)).toHaveLength(3);
    await t.jobs.closeJob();
    await t.jobs.removeFromList(a);
    await t.jobs.letRemovedGo(Date.now() + 6 * 86_400_000);
    expect(listed(t)).toEqual([["A", true]]);
    const going = t.jobs.letRemovedGo(Date.now() + 8 * 86_400_000);
    await settle();
    await going;
    expect(listed(t)).toEqual([]);
  });

  it("renames a job that is not open, as a step of it, and duplicates one with all its steps", async () => {
    const t = await tab();
    const a = await jobWith(t, "A", 2);
    await t.jobs.closeJob();
    await t.jobs.renameStored(a, "Creek");
    expect(listed(t)).toEqual([["Creek", false]]);
    await t.jobs.duplicateJob(a);
    expect(
      state(t)
        .jobs.map((j) => j.name)
        .sort(),
    ).toEqual(["Creek", "Creek, copy"]);
    const copy = state(t).jobs.find((j) => j.name === "Creek, copy")!;
    await t.jobs.openStoredJob(copy.id);
    expect(state(t).history.steps.map((s) => sentence(s.label))).toEqual(['Job "A" begun', "frames", 'Job named "Creek"', 'Job named "Creek, copy"']);
    t.open.undo();
    expect(jobOf(state(t).records)?.name).toBe("Creek");
    await t.jobs.openStoredJob(a);
    expect([jobOf(state(t).records)?.name, framesOf(state(t).records).length]).toEqual(["Creek", 2]);
  });

  it("leaves a job alone that is open in another tab", async () => {
    const t = await tab();
    const a = await jobWith(t, "A", 2);
    const other = await tab();
    await other.jobs.removeFromList(a);
    await other.jobs.renameStored(a, "B");
    expect(other.notices()).toEqual(["This job is open in another tab. Close it there first."]);
    await other.jobs.refreshJobs();
    expect(listed(other)).toEqual([["A", false]]);
  });
});
