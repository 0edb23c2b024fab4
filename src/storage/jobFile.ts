import { message } from "../messages/message";
import { FILE_LIMITS } from "../document/limits";
import { DocumentError, parseDocument, salvageDocument, type ParsedJob, type StoredJob } from "../document/parseDocument";
import { sourcesOfSteps } from "../document/sourceIds";
import type { Records } from "../document/records/types";
import { FormatError } from "../formats/formatError";
import { readEntriesInOrder, readZip, type RandomBytes, type ZipEntry } from "../formats/archive/readZip";
import { ZipWriter } from "../formats/archive/ZipWriter";

/** As files of these formats usually end. */
const EXTENSIONS = new Map(
  Object.entries({ JPEG: "jpg", PNG: "png", TIFF: "tif", WebP: "webp", AVIF: "avif", OpenEXR: "exr", Radiance: "hdr", "camera raw": "raw", ICC: "icc" }),
);
export const JOB_ENTRY = "job.json";

/** Where a source lies in a job file; one of another format ends in its letters. */
export function sourceEntryName(sourceId: string, format: string): string {
  const letters = format.toLowerCase().replace(/[^a-z0-9]/g, "");
  return `sources/${sourceId}.${EXTENSIONS.get(format) ?? (letters.slice(0, 16) || "file")}`;
}

/**
 * Streams a job with its sources as one open zip; see docs/formats/marsh.md.
 * @param loadSource bytes of a source, or null where it is not there @returns files of the sources that are not in it
 */
export async function writeJobFile(
  job: StoredJob,
  loadSource: (id: string) => Promise<Uint8Array | null>,
  emit: (bytes: Uint8Array) => void,
): Promise<string[]> {
  const zip = new ZipWriter(emit);
  const text = new TextEncoder().encode(JSON.stringify({ format: "marsh-job", ...job }));
  if (text.length > FILE_LIMITS.jsonBytes) throw tooLong(text.length);
  zip.add(JOB_ENTRY, text);
  const missing: string[] = [];
  for (const [sourceId, { format, fileName }] of sourcesOfSteps(job.history.steps)) {
    const bytes = await loadSource(sourceId);
    if (bytes) zip.add(sourceEntryName(sourceId, format), bytes);
    else missing.push(fileName);
  }
  zip.finish();
  return missing;
}

const tooLong = (bytes: number) => new FormatError("limit", message("job.historyTakes", { mb: Math.round(bytes / 1e6), most: FILE_LIMITS.jsonBytes / 1e6 }));

export interface OpenedJob {
  job: StoredJob;
  records: Records;
  /** source id → its bytes, held to the checksum that the job names it by */
  sources: Map<string, { read(): Promise<Uint8Array> }>;
  /** steps that were left out because they cannot be read */
  lost: number;
  /** files of sources that are not there */
  missing: string[];
}

/**
 * @param digest checksum of a source @param salvage opens what is whole of a damaged job instead of refusing it; its `lost` and `missing` say what is not
 * @throws FormatError or DocumentError with one sentence; nothing is kept of a file that fails
 */
export async function openJobFile(source: RandomBytes, digest: (bytes: Uint8Array) => Promise<string>, salvage = false): Promise<OpenedJob> {
  const entries = await entriesOf(source, salvage);
  if (new Set(entries.map((e) => e.name)).size < entries.length) throw new FormatError("hostile", "job.twoEntries");
  const main = entries.find((e) => e.name === JOB_ENTRY);
  if (!main) throw new FormatError("unsupported", "job.notOne");
  if (main.size > FILE_LIMITS.jsonBytes) throw tooLong(main.size);
  let json: unknown;
  try {
    json = JSON.parse(new TextDecoder().decode(await main.read()));
  } catch (error) {
    if (error instanceof FormatError) throw error;
    throw new FormatError("damaged", "job.jsonDamaged");
  }
  const { job, records, lost } = parsed(json, salvage);
  const sources: OpenedJob["sources"] = new Map();
  const missing: string[] = [];
  for (const [sourceId, { format, fileName }] of sourcesOfSteps(job.history.steps)) {
    const entry = entries.find((e) => e.name === sourceEntryName(sourceId, format));
    if (entry) sources.set(sourceId, { read: () => readSource(entry, sourceId, digest) });
    else if (salvage) missing.push(fileName);
    else throw new FormatError("damaged", "job.lacksSource");
  }
  return { job, records, sources, lost, missing };
}

async function entriesOf(source: RandomBytes, salvage: boolean): Promise<ZipEntry[]> {
  try {
    return await readZip(source);
  } catch (error) {
    const found = salvage && error instanceof FormatError && error.reason === "damaged" ? await readEntriesInOrder(source) : [];
    if (found.length === 0) throw error;
    return found;
  }
}

function parsed(json: unknown, salvage: boolean): ParsedJob {
  try {
    return parseDocument(json);
  } catch (error) {
    if (salvage && error instanceof DocumentError && error.reason === "damaged") return salvageDocument(json);
    throw error;
  }
}

async function readSource(entry: ZipEntry, sourceId: string, digest: (bytes: Uint8Array) => Promise<string>): Promise<Uint8Array> {
  const bytes = await entry.read();
  if ((await digest(bytes)) !== sourceId) throw new FormatError("damaged", "job.otherSource");
  return bytes;
}
