import "fake-indexeddb/auto";
import { setAdjustment, startJob, takeStep, addFrames } from "../document/edits";
import { concatBytes } from "../formats/bytes";
import { bytesInMemory } from "../formats/archive/readZip";
import { ZipWriter } from "../formats/archive/ZipWriter";
import { asciiBytes } from "../formats/bytes";
import { listJobs, loadJob, loadKept, removeJob, removeUnusedSources, saveJob, saveSource, StorageError } from "./database";
import { sha256 } from "../engine/graph/keys";
import { checkLinks, findIn, keepFolder, loadSource, pictureNames, saveLink } from "./linkedFiles";
import { JOB_ENTRY, openJobFile, sourceEntryName, writeJobFile } from "./jobFile";
import { DOCUMENT_VERSION } from "../document/migrations";
import { newFrame } from "../../tests/support/records";
import { randomOf } from "../../tests/support/kernels";

const random = randomOf(9);
const SOURCE = Uint8Array.from({ length: 3000 }, () => Math.floor(random() * 256));
const ID = "b".repeat(64);

function job() {
  let state = startJob("Stored", "2026-01-01T00:00:00Z");
  state = takeStep(state.history, state.records, addFrames([newFrame({ sourceId: ID, width: 30, height: 20 })]), { stage: "gather", label: "frames" }, "t");
  state = takeStep(state.history, state.records, setAdjustment("exposure", { ev: 0.5 }), { stage: "finish", label: "exposure" }, "t");
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
  const opened = await openJobFile(bytesInMemory(await fileOf()));
  expect(opened.job.history.steps.map((s) => s.label)).toEqual(['Job "Stored" begun', "frames", "exposure"]);
  expect([...(await opened.sources.get(ID)!.read())]).toEqual([...SOURCE]);
  expect(opened.records["adjustment-exposure"]).toMatchObject({ values: { ev: 0.5 } });
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
  await expect(openJobFile(zip([[JOB_ENTRY, text]]))).rejects.toThrow("lacks one of its source pictures");
  await expect(openJobFile(zip([["other.txt", "x"]]))).rejects.toThrow("not a Marsh job");
  await expect(openJobFile(zip([[JOB_ENTRY, "{"]]))).rejects.toThrow("job.json is damaged");
  await expect(openJobFile(zip([[JOB_ENTRY, JSON.stringify({ ...job().stored, version: DOCUMENT_VERSION + 1 })]]))).rejects.toThrow("newer Marsh");
  expect(sourceEntryName(ID, "TIFF")).toBe(`sources/${ID}.tif`);
});

it("the browser's database keeps jobs and sources, and lets unused sources go", async () => {
  const entry = { id: "job-1", name: "Stored", updatedAt: "2026-01-02", lastCopyAt: null, stage: "gather", frames: 1, job: job().stored };
  await saveJob(entry);
  await saveJob({ ...entry, id: "job-2", updatedAt: "2026-01-03" });
  expect((await listJobs()).map((j) => j.id)).toEqual(["job-2", "job-1"]);
  expect((await loadJob("job-1"))?.job.history.steps).toHaveLength(3);
  await saveSource(ID, new Blob([SOURCE]));
  await removeUnusedSources(new Set([ID]));
  await removeUnusedSources(new Set());
  expect(await loadKept(ID)).toBeNull();
  await expect(loadSource(ID, sha256)).rejects.toThrow(StorageError);
  await removeJob("job-2");
  expect(await listJobs()).toHaveLength(1);
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
    Object.assign(kept, await keepFolder(handle));
    await saveLink(id, link());
  });
  afterAll(() => jest.restoreAllMocks());

  it("are read where they lie, and a folder is kept once", async () => {
    expect(await pictureNames(handle)).toEqual(["creek-1.jpg"]);
    expect([...(await loadSource(id, sha256))]).toEqual([...SOURCE]);
    expect((await keepFolder(handle)).id).toBe(kept.id);
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
    await expect(loadSource(id, sha256)).rejects.toThrow("has changed since it was gathered");
    folder.files.clear();
    expect((await checkLinks([id], sha256))[0].state).toBe("missing");
    await expect(loadSource(id, sha256)).rejects.toThrow("is not in the folder “Creek” any more");
    folder.permission = "prompt";
    expect((await checkLinks([id], sha256))[0].state).toBe("notAllowed");
    await expect(loadSource(id, sha256)).rejects.toThrow("allow the folder “Creek”");
  });

  it("are linked anew to another folder that holds them", async () => {
    const other = new Folder("Backup");
    other.put("a.jpg", SOURCE, 3);
    expect(await findIn(await keepFolder(other as unknown as FileSystemDirectoryHandle), [id], sha256)).toEqual([id]);
    expect([...(await loadSource(id, sha256))]).toEqual([...SOURCE]);
  });
});
