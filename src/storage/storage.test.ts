import { sentence } from "../messages/sentence";
import { written } from "../messages/message";
import "fake-indexeddb/auto";
import { createHash } from "node:crypto";
import { startJob, takeStep, addFrames } from "../document/edits";
import { setFinish } from "../document/finishEdits";
import { finishValues } from "../document/selectors";
import { concatBytes } from "../formats/bytes";
import { bytesInMemory } from "../formats/archive/readZip";
import { ZipWriter } from "../formats/archive/ZipWriter";
import { asciiBytes } from "../formats/bytes";
import type { Step } from "../document/history";
import { StorageError, type JobEntry } from "./database";
import { listJobs, loadJob, removeJob, saveJob } from "./jobStore";
import { dropLeases, loadKept, saveLink, saveSource } from "./sourceStore";
import { sha256 } from "../engine/graph/keys";
import { checkLinks, findIn, keepFolder, loadSource, pictureNames } from "./linkedFiles";
import { JOB_ENTRY, openJobFile, sourceEntryName, writeJobFile } from "./jobFile";
import { DOCUMENT_VERSION } from "../document/migrations/migrations";
import { newFrame } from "../../tests/support/records";
import { randomOf } from "../../tests/support/kernels";

const random = randomOf(9);
const SOURCE = Uint8Array.from({ length: 3000 }, () => Math.floor(random() * 256));
const ID = createHash("sha256").update(SOURCE).digest("hex");

function job() {
  let state = startJob("Stored", "2026-01-01T00:00:00Z");
  state = takeStep(
    state.history,
    state.records,
    addFrames([newFrame({ sourceId: ID, width: 30, height: 20 })]),
    { stage: "gather", label: written("frames") },
    "t",
  );
  state = takeStep(state.history, state.records, setFinish("exposure", { ev: 0.5 }), { stage: "finish", label: written("exposure") }, "t");
  return { stored: { version: DOCUMENT_VERSION, id: "job-1", history: state.history }, records: state.records };
}

async function fileOf(): Promise<Uint8Array> {
  const parts: Uint8Array[] = [];
  await writeJobFile(
    job().stored,
    async () => SOURCE,
    (p) => parts.push(p),
  );
  return concatBytes(parts);
}

it("a job file comes back with its steps and its sources, bit by bit", async () => {
  const opened = await openJobFile(bytesInMemory(await fileOf()), sha256);
  expect(opened.job.history.steps.map((s) => sentence(s.label))).toEqual(['Job "Stored" begun', "frames", "exposure"]);
  expect([...(await opened.sources.get(ID)!.read())]).toEqual([...SOURCE]);
  expect(finishValues(opened.records, "exposure")).toEqual({ ev: 0.5 });
});

it("a source that was swapped, and two entries of one name, are refused", async () => {
  const zipped = (...more: [string, Uint8Array][]) => {
    const parts: Uint8Array[] = [];
    const writer = new ZipWriter((p) => parts.push(p));
    writer.add(JOB_ENTRY, asciiBytes(JSON.stringify({ format: "marsh-job", ...job().stored })));
    for (const [name, bytes] of more) writer.add(name, bytes);
    writer.finish();
    return bytesInMemory(concatBytes(parts));
  };
  const swapped = SOURCE.slice();
  swapped[100] ^= 1;
  const opened = await openJobFile(zipped([sourceEntryName(ID, "JPEG"), swapped]), sha256);
  await expect(opened.sources.get(ID)!.read()).rejects.toThrow("job.otherSource");
  const entry: [string, Uint8Array] = [sourceEntryName(ID, "JPEG"), SOURCE];
  await expect(openJobFile(zipped(entry, entry), sha256)).rejects.toThrow("job.twoEntries");
});

it("what is whole of a damaged job file is opened where that is asked for, and what is not is named", async () => {
  const whole = await fileOf();
  const salvaged = (bytes: Uint8Array) => openJobFile(bytesInMemory(bytes), sha256, true);
  // cut within the source: its directory is gone too
  const cut = whole.slice(0, whole.length - 1500);
  await expect(openJobFile(bytesInMemory(cut), sha256)).rejects.toThrow("zip.damaged");
  const opened = await salvaged(cut);
  expect([opened.job.history.steps.length, opened.lost, opened.missing, opened.sources.size]).toEqual([3, 0, ["a.jpg"], 0]);
  // cut behind it: all is there
  expect((await salvaged(whole.slice(0, whole.length - 30))).sources.size).toBe(1);
  // cut within the job itself: nothing is
  await expect(salvaged(whole.slice(0, 400))).rejects.toThrow("zip.damaged");
});

it("a job is written although sources are not there, and they are named", async () => {
  const parts: Uint8Array[] = [];
  const missing = await writeJobFile(
    job().stored,
    async () => null,
    (p) => parts.push(p),
  );
  expect(missing).toEqual(["a.jpg"]);
  expect((await openJobFile(bytesInMemory(concatBytes(parts)), sha256, true)).missing).toEqual(["a.jpg"]);
});

it("a job file without its sources, without a job, or from a newer version is refused with a sentence", async () => {
  const zip = (entries: [string, string][]) => {
    const parts: Uint8Array[] = [];
    const writer = new ZipWriter((p) => parts.push(p));
    for (const [name, text] of entries) writer.add(name, asciiBytes(text));
    writer.finish();
    return bytesInMemory(concatBytes(parts));
  };
  const text = JSON.stringify({ format: "marsh-job", ...job().stored });
  await expect(openJobFile(zip([[JOB_ENTRY, text]]), sha256)).rejects.toThrow("job.lacksSource");
  await expect(openJobFile(zip([["other.txt", "x"]]), sha256)).rejects.toThrow("job.notOne");
  await expect(openJobFile(zip([[JOB_ENTRY, "{"]]), sha256)).rejects.toThrow("job.jsonDamaged");
  await expect(openJobFile(zip([[JOB_ENTRY, JSON.stringify({ ...job().stored, version: DOCUMENT_VERSION + 1 })]]), sha256)).rejects.toThrow("job.newer");
  expect(sourceEntryName(ID, "TIFF")).toBe(`sources/${ID}.tif`);
  // a format that is not known here ends in nothing that leads out of the folder
  expect(["grey bytes", "../../a", "__proto__", "…"].map((f) => sourceEntryName(ID, f).slice(`sources/${ID}`.length))).toEqual([
    ".greybytes",
    ".a",
    ".proto",
    ".file",
  ]);
});

const entry = (id: string, sources: string[], steps: Step[]): JobEntry => ({
  id,
  name: "Stored",
  updatedAt: "2026-01-02",
  lastCopyAt: null,
  stage: "gather",
  frames: 1,
  setKind: "separate",
  reached: "gather",
  openFindings: null,
  removedAt: null,
  version: DOCUMENT_VERSION,
  head: steps.at(-1)?.id ?? null,
  sources,
  proof: null,
});
const placed = (steps: Step[]) => steps.map((s, i) => [i, s] as const);

describe("the browser's database", () => {
  it("keeps steps one by one: a save writes what is new, the list reads no history", async () => {
    const { steps } = job().stored.history;
    await saveJob(entry("job-1", [ID], steps.slice(0, 2)), placed(steps.slice(0, 2)));
    await saveJob({ ...entry("job-2", [], steps), updatedAt: "2026-01-03" }, placed(steps));
    expect((await listJobs()).map((j) => [j.id, Object.keys(j).includes("job")])).toEqual([
      ["job-2", false],
      ["job-1", false],
    ]);
    await saveJob(entry("job-1", [ID], steps), [[2, { ...steps[2], note: "later" }]]);
    const found = await loadJob("job-1");
    expect(found?.steps.map((s) => [sentence(s.label), s.note])).toEqual([
      ['Job "Stored" begun', ""],
      ["frames", ""],
      ["exposure", "later"],
    ]);
    expect(found?.entry.head).toBe(steps[2].id);
    expect(await loadJob("none")).toBeUndefined();
  });

  it("lets a job's sources go with it, but not those that another job names or is about to get", async () => {
    const [own, shared, coming] = ["c", "d", "e"].map((c) => c.repeat(64));
    for (const id of [own, shared]) await saveSource("job-3", id, new Blob([SOURCE]));
    await saveJob(entry("job-3", [own, shared], []), []);
    await saveJob(entry("job-4", [shared], []), []);
    await saveSource("job-4", coming, new Blob([SOURCE]));
    await removeJob("job-3");
    expect(await Promise.all([own, shared, coming].map(async (id) => (await loadKept(id)) !== null))).toEqual([false, true, true]);
    // what a job never got goes when it is opened next
    await dropLeases("job-4");
    expect(await Promise.all([shared, coming].map(async (id) => (await loadKept(id)) !== null))).toEqual([true, false]);
    await expect(loadSource(own, sha256)).rejects.toThrow(StorageError);
  });
});

/** A folder as the browser's file system gives it: named files with dates, allowed or not. */
class Folder {
  readonly kind = "directory";
  permission: PermissionState = "granted";
  files = new Map<string, File>();
  constructor(readonly name: string) {}
  put(name: string, bytes: Uint8Array, lastModified = 1) {
    this.files.set(name, new File([bytes as BlobPart], name, { lastModified }));
  }
  async *entries(): AsyncGenerator<[string, { kind: string }]> {
    for (const name of this.files.keys()) yield [name, { kind: "file" }];
  }
  async getFileHandle(name: string) {
    if (!this.files.has(name)) throw new DOMException("none", "NotFoundError");
    return { getFile: async () => this.files.get(name)! };
  }
  isSameEntry = async (other: Folder) => other.name === this.name;
  queryPermission = async () => this.permission;
}

describe("sources left in a folder", () => {
  const folder = new Folder("Creek");
  const handle = folder as unknown as FileSystemDirectoryHandle;
  let id: string;
  // the stand-in for the database copies what it stores; a browser keeps a handle as it is
  const kept = { id: "", name: "Creek", handle };
  const link = () => ({ folderId: kept.id, fileName: "creek-1.jpg", size: SOURCE.length, lastModified: 1 });
  beforeAll(async () => {
    jest.spyOn(globalThis, "structuredClone").mockImplementation((v) => v);
    folder.put("creek-1.jpg", SOURCE);
    folder.put("notes.txt", asciiBytes("not a picture"));
    id = await sha256(SOURCE);
    Object.assign(kept, await keepFolder("job-5", handle));
    await saveLink("job-5", id, link());
  });
  afterAll(() => jest.restoreAllMocks());

  it("are read where they lie, and a folder is kept once", async () => {
    expect(await pictureNames(handle)).toEqual(["creek-1.jpg"]);
    expect([...(await loadSource(id, sha256))]).toEqual([...SOURCE]);
    expect((await keepFolder("job-5", handle)).id).toBe(kept.id);
    expect(await checkLinks([id], sha256)).toMatchObject([{ state: "found", fileName: "creek-1.jpg", foundAs: null }]);
  });

  it("are found again under another name by their checksum", async () => {
    folder.files.clear();
    folder.put("other.jpg", SOURCE.slice().reverse());
    folder.put("renamed.jpg", SOURCE, 7);
    expect(await checkLinks([id], sha256)).toMatchObject([{ state: "found", foundAs: "renamed.jpg" }]);
    expect([...(await loadSource(id, sha256))]).toEqual([...SOURCE]);
  });

  it("changed, missing or not allowed are told apart, each with a sentence", async () => {
    folder.put("renamed.jpg", SOURCE.slice().fill(3, 10, 20), 9);
    expect((await checkLinks([id], sha256))[0].state).toBe("changed");
    await expect(loadSource(id, sha256)).rejects.toThrow("storage.changed");
    folder.files.clear();
    expect((await checkLinks([id], sha256))[0].state).toBe("missing");
    await expect(loadSource(id, sha256)).rejects.toThrow(/storage.notInFolder.*Creek/);
    folder.permission = "prompt";
    expect((await checkLinks([id], sha256))[0].state).toBe("notAllowed");
    await expect(loadSource(id, sha256)).rejects.toThrow(/storage.notAllowed.*Creek/);
  });

  it("are linked anew to another folder that holds them", async () => {
    const other = new Folder("Backup");
    other.put("a.jpg", SOURCE, 3);
    expect(await findIn(await keepFolder("job-5", other as unknown as FileSystemDirectoryHandle), [id], sha256)).toEqual([id]);
    expect([...(await loadSource(id, sha256))]).toEqual([...SOURCE]);
  });

  it("a folder that nothing is linked to yet outlives what another tab removes, until its job gives it up", async () => {
    const coming = new Folder("Coming") as unknown as FileSystemDirectoryHandle;
    const { id: first } = await keepFolder("job-6", coming);
    await saveJob(entry("job-7", [], []), []);
    await removeJob("job-7");
    expect((await keepFolder("job-6", coming)).id).toBe(first);
    await dropLeases("job-6");
    expect((await keepFolder("job-6", coming)).id).not.toBe(first);
  });
});
