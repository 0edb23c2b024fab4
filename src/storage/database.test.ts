/** The database of before, of a newer Marsh, and one that another tab holds on to. */
import { written } from "../messages/message";
import "fake-indexeddb/auto";
import { IDBFactory } from "fake-indexeddb";
import { openDB } from "idb";
import { newFrame } from "../../tests/support/records";
import { addFrames, startJob, takeStep } from "../document/edits";
import { DATABASE } from "./database";

beforeEach(() => {
  Object.assign(globalThis, { indexedDB: new IDBFactory() });
  jest.resetModules();
});

const ID = "a".repeat(64);
/** As versions 1 to 3 stored a job: its whole history in one record. */
async function storeOld(version: number) {
  let state = startJob("Old", "2026-01-01", "set-1");
  state = takeStep(state.history, state.records, addFrames([newFrame({ sourceId: ID })]), { stage: "gather", label: written("frames") }, "t");
  const db = await openDB(DATABASE.name, version, {
    upgrade(old) {
      old.createObjectStore("jobs", { keyPath: "id" });
      old.createObjectStore("sources");
      if (version >= 2) {
        old.createObjectStore("folders", { keyPath: "id" });
        old.createObjectStore("links");
      }
      if (version >= 3) old.createObjectStore("looks", { keyPath: "id" });
    },
  });
  await db.put("jobs", {
    id: "job-1",
    name: "Old",
    updatedAt: "2026-01-02",
    lastCopyAt: null,
    stage: "gather",
    frames: 1,
    job: { version: 9, id: "job-1", history: state.history },
  });
  await db.put("sources", new Blob(["x"]), ID);
  db.close();
  return state.history;
}

it.each([1, 2, 3])("jobs of the database of version %i keep every step, and their sources are known as theirs", async (version) => {
  const history = await storeOld(version);
  const { loadJob, listJobs } = await import("./jobStore");
  const { dropLeases, loadKept } = await import("./sourceStore");
  const { saveLook, listLooks } = await import("./lookStore");
  const found = (await loadJob("job-1"))!;
  expect(found.steps).toEqual(history.steps);
  expect(found.entry).toMatchObject({ version: 9, head: history.head, sources: [ID], proof: null });
  expect(Object.keys((await listJobs())[0])).not.toContain("job");
  await dropLeases("job-1");
  expect(await loadKept(ID)).not.toBeNull();
  await saveLook({ id: "l", name: "L", createdAt: "2026", steps: [] });
  expect(await listLooks()).toHaveLength(1);
});

it("a job of the database of version 4 stands at what is known of it, until it is opened", async () => {
  const db = await openDB(DATABASE.name, 4, {
    upgrade(old) {
      old.createObjectStore("jobs", { keyPath: "id" });
      for (const name of ["sources", "steps", "leases", "links"]) old.createObjectStore(name);
      for (const name of ["folders", "looks"]) old.createObjectStore(name, { keyPath: "id" });
    },
  });
  await db.put("jobs", {
    id: "job-1",
    name: "Old",
    updatedAt: "2026",
    lastCopyAt: null,
    stage: "merge",
    frames: 2,
    version: 11,
    head: null,
    sources: [ID],
    proof: null,
  });
  await db.put("sources", new Blob(["four"]), ID);
  db.close();
  const { listJobs, savePicture, loadPicture, removeJob, sizesOnDisk } = await import("./jobStore");
  const entries = await listJobs();
  expect(entries).toMatchObject([{ name: "Old", frames: 2, setKind: "separate", reached: "gather", openFindings: null, removedAt: null }]);
  expect([...(await sizesOnDisk(entries))].map(([id]) => id)).toEqual(["job-1"]);
  await savePicture("job-1", new Blob(["picture"]));
  await savePicture("gone", new Blob(["picture"]));
  expect([(await loadPicture("job-1")) !== undefined, await loadPicture("gone")]).toEqual([true, undefined]);
  await removeJob("job-1");
  expect(await loadPicture("job-1")).toBeUndefined();
});

it("a newer database is left alone, with a sentence", async () => {
  (await openDB(DATABASE.name, DATABASE.version + 1)).close();
  const { listJobs } = await import("./jobStore");
  await expect(listJobs()).rejects.toThrow(/storage.newer/);
});

it("a tab that holds on to an older database is named, and once it lets go the storage opens", async () => {
  await storeOld(3);
  const holding = await openDB(DATABASE.name, 3);
  const { listJobs } = await import("./jobStore");
  await expect(listJobs()).rejects.toThrow(/storage.blocked/);
  holding.close();
  expect(await listJobs()).toHaveLength(1);
});

it("a newer Marsh need not wait for this tab: it lets go, and opens its storage again when it can", async () => {
  const { listJobs, saveJob } = await import("./jobStore");
  expect(await listJobs()).toEqual([]);
  const newer = await openDB(DATABASE.name, DATABASE.version + 1);
  newer.close();
  await expect(listJobs()).rejects.toThrow(/storage.newer/);
  await expect(saveJob({} as never, [])).rejects.toThrow(/storage.newer/);
});

it("a database that was deleted under the tab begins anew", async () => {
  const { listJobs } = await import("./jobStore");
  await listJobs();
  await new Promise<void>((done, failed) => {
    const request = indexedDB.deleteDatabase(DATABASE.name);
    request.onsuccess = () => done();
    request.onerror = () => failed(request.error);
  });
  expect(await listJobs()).toEqual([]);
});
