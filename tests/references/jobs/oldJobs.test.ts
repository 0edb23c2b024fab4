/** Jobs of every version, each with the picture that the code of that version delivered of it: they open and give the same picture, now and ever after. */
import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { createNodeEngine } from "../../../src/cli/createNodeEngine";
import { DOCUMENT_VERSION } from "../../../src/document/migrations/migrations";
import { parseDocument } from "../../../src/document/parseDocument";
import { ZipWriter } from "../../../src/formats/archive/ZipWriter";
import { concatBytes } from "../../../src/formats/bytes";
import { readTiff } from "../../../src/formats/tiff/readTiff";
import { sha256 } from "../../../src/engine/graph/keys";
import { openJobFile } from "../../../src/storage/jobFile";
import { MemoryRasterStore } from "../../../src/engine/tiles/MemoryRasterStore";

const FOLDER = join(process.cwd(), "tests/fixtures/jobs");
const NAMES = readdirSync(FOLDER)
  .filter((f) => f.endsWith(".json"))
  .map((f) => f.slice(0, -".json".length));

/** The job file as it was: its entry of records and the source pictures, which all fixtures share. */
function jobFile(name: string): Uint8Array {
  const parts: Uint8Array[] = [];
  const zip = new ZipWriter((bytes) => parts.push(bytes));
  zip.add("job.json", readFileSync(join(FOLDER, `${name}.json`)));
  for (const file of readdirSync(join(FOLDER, "sources"))) zip.add(`sources/${file}`, readFileSync(join(FOLDER, "sources", file)));
  zip.finish();
  return concatBytes(parts);
}

/** Codes of 255 by which half of the samples, 95 % of them and nearly all of them may differ. */
type Limits = readonly [half: number, most: number, nearlyAll: number];
/** Beside hard edges frames that were resampled rang, to black even: since resampling is bounded these samples differ, on purpose. Some 1 % in such small pictures. */
const NEARLY_ALL = 0.985;
/** What was rounded otherwise since. */
const SAME: Limits = [0.03, 0.1, 0.3];
/** Up to version 3 what moved was not looked for in a radiance merge; where frames differ, it is the merge that changed, on purpose. */
const GHOSTS: Limits = [0.03, 1, 255];
/** Up to version 7 noise was read off the reference alone, and the depth of what is not sharp was another. */
const DEPTH: Limits = [1.5, 14, 255];

function limitsOf(version: number, method: string): Limits {
  if (method === "radiance" && version <= 3) return GHOSTS;
  return method === "focus" && version <= 7 ? DEPTH : SAME;
}

async function rendered(name: string) {
  const bytes = jobFile(name);
  const opened = await openJobFile({ size: bytes.length, read: async (at, length) => bytes.subarray(at, at + length) }, sha256);
  const node = await createNodeEngine(process.cwd(), new MemoryRasterStore());
  for (const [id, entry] of opened.sources) node.sources.set(id, () => entry.read());
  const settings = { format: "tiff16", quality: 95, space: "srgb", content: "finished", crop: true } as const;
  const { parts } = await node.ask("exportPicture", { records: opened.records, settings });
  return { opened, raster: readTiff(concatBytes(parts)).raster };
}

it("every version that jobs were written in has its jobs", () => {
  const versions = new Set(NAMES.map((n) => Number(/^v(\d+)-/.exec(n)![1])));
  expect([...versions].sort((a, b) => a - b)).toEqual(Array.from({ length: DOCUMENT_VERSION - 1 }, (_, i) => i + 1));
});

it.each(NAMES)("%s opens and gives its picture", async (name) => {
  const { opened, raster } = await rendered(name);
  const before = readTiff(new Uint8Array(readFileSync(join(FOLDER, `${name}.tif`)))).raster;
  expect([raster.width, raster.height]).toEqual([before.width, before.height]);
  const off = Float32Array.from(raster.data, (v, i) => Math.abs(v - before.data[i]) / 257).sort();
  const [, version, method] = /^v(\d+)-(\w+)$/.exec(name)!;
  const [half, most, nearlyAll] = limitsOf(Number(version), method);
  expect(off[off.length >> 1]).toBeLessThan(half);
  expect(off[Math.floor(off.length * 0.95)]).toBeLessThan(most);
  expect(off[Math.floor(off.length * NEARLY_ALL)]).toBeLessThan(nearlyAll);
  // going back through every step finds records that hold
  const { steps } = opened.job.history;
  expect(steps.length).toBeGreaterThanOrEqual(4);
  for (const step of steps) expect(() => parseDocument({ ...opened.job, history: { ...opened.job.history, head: step.id } })).not.toThrow();
});
