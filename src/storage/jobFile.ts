import { parseDocument, type StoredJob } from "../document/parseDocument";
import { sourcesOfSteps } from "../document/sourceIds";
import type { Records } from "../document/records/types";
import { FormatError } from "../formats/formatError";
import { readZip, type RandomBytes, type ZipEntry } from "../formats/archive/readZip";
import { ZipWriter } from "../formats/archive/ZipWriter";

const EXTENSION = { JPEG: "jpg", PNG: "png", TIFF: "tif", WebP: "webp", AVIF: "avif", OpenEXR: "exr", Radiance: "hdr", "camera raw": "raw" } as const;
export const JOB_ENTRY = "job.json";

/** Where a source lies in a job file. */
export function sourceEntryName(sourceId: string, format: keyof typeof EXTENSION): string {
  return `sources/${sourceId}.${EXTENSION[format]}`;
}

/** Streams a job with its sources as one open zip; see docs/formats/marsh.md. */
export async function writeJobFile(job: StoredJob, loadSource: (id: string) => Promise<Uint8Array>, emit: (bytes: Uint8Array) => void): Promise<void> {
  const zip = new ZipWriter(emit);
  zip.add(JOB_ENTRY, new TextEncoder().encode(JSON.stringify({ format: "marsh-job", ...job }, null, 1)));
  for (const [sourceId, format] of sourcesOfSteps(job.history.steps)) zip.add(sourceEntryName(sourceId, format), await loadSource(sourceId));
  zip.finish();
}

export interface OpenedJob {
  job: StoredJob;
  records: Records;
  /** source id → its bytes, held to the checksum that the job names it by */
  sources: Map<string, { read(): Promise<Uint8Array> }>;
}

/** @param digest checksum of a source @throws FormatError or DocumentError with one sentence; nothing is kept of a file that fails */
export async function openJobFile(source: RandomBytes, digest: (bytes: Uint8Array) => Promise<string>): Promise<OpenedJob> {
  const entries = await readZip(source);
  if (new Set(entries.map((e) => e.name)).size < entries.length) throw new FormatError("hostile", "The job file holds two entries of one name.");
  const main = entries.find((e) => e.name === JOB_ENTRY);
  if (!main) throw new FormatError("unsupported", "This zip is not a Marsh job: it has no job.json.");
  if (main.size > 300_000_000) throw new FormatError("limit", "The job's history is over 300 MB, the largest Marsh reads.");
  let json: unknown;
  try {
    json = JSON.parse(new TextDecoder().decode(await main.read()));
  } catch (error) {
    if (error instanceof FormatError) throw error;
    throw new FormatError("damaged", "The job file's job.json is damaged.");
  }
  const { job, records } = parseDocument(json);
  const sources: OpenedJob["sources"] = new Map();
  for (const [sourceId, format] of sourcesOfSteps(job.history.steps)) {
    const entry = entries.find((e) => e.name === sourceEntryName(sourceId, format));
    if (!entry) throw new FormatError("damaged", "The job file lacks one of its source pictures.");
    sources.set(sourceId, { read: () => readSource(entry, sourceId, digest) });
  }
  return { job, records, sources };
}

async function readSource(entry: ZipEntry, sourceId: string, digest: (bytes: Uint8Array) => Promise<string>): Promise<Uint8Array> {
  const bytes = await entry.read();
  if ((await digest(bytes)) !== sourceId) throw new FormatError("damaged", "A source picture in the job file is not the one the job was made from.");
  return bytes;
}
