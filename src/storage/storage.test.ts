import "fake-indexeddb/auto";
import { setAdjustment, startJob, takeStep, addFrames } from "../document/edits";
import { concatBytes } from "../formats/bytes";
import { bytesInMemory } from "../formats/archive/readZip";
import { ZipWriter } from "../formats/archive/ZipWriter";
import { asciiBytes } from "../formats/bytes";
import { listJobs, loadJob, loadSource, removeJob, removeUnusedSources, saveJob, saveSource, StorageError } from "./database";
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
  await expect(openJobFile(zip([[JOB_ENTRY, JSON.stringify({ ...job().stored, version: 7 })]]))).rejects.toThrow("newer Marsh");
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
  await expect(loadSource(ID)).rejects.toThrow(StorageError);
  await removeJob("job-2");
  expect(await listJobs()).toHaveLength(1);
});
